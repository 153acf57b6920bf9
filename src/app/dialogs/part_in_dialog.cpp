#include "app/dialogs/part_in_dialog.h"
#include "app/controls/controls.h"
#include "app/controls/format.h"
#include "app/controls/value_field.h"
#include "app/render/part_picture.h"
#include "app/state/background.h"
#include "model/document/part_item.h"
#include <QApplication>
#include <QCheckBox>
#include <QComboBox>
#include <QDialogButtonBox>
#include <QFileInfo>
#include <QLabel>
#include <QListWidget>
#include <QPainter>
#include <QPainterPath>
#include <QPushButton>
#include <QVBoxLayout>

namespace vicinal {

/// The part seen from the front beside a person of 1.8 m, both to the same scale.
class SizePreview : public QWidget {
public:
    explicit SizePreview(Unit unit) : m_unit(unit) {
        setObjectName("partIn.preview");
        setMinimumSize(300, 250);
    }
    /// `scale`: mm a unit of the mesh; 0 while it is not known.
    void show(std::shared_ptr<const Mesh> mesh, const Box3& box, double scale) {
        m_mesh = std::move(mesh);
        m_box = box;
        m_scale = scale;
        update();
    }
    void paintEvent(QPaintEvent*) override {
        QPainter p(this);
        p.setRenderHint(QPainter::Antialiasing);
        p.setPen(theme::line());
        p.setBrush(theme::field());
        p.drawRoundedRect(QRectF(rect()).adjusted(0.5, 0.5, -0.5, -0.5), 5, 5);
        p.setFont(theme::font(12));
        if (m_scale <= 0 || m_box.isEmpty()) {
            p.setPen(theme::muted());
            p.drawText(rect().adjusted(16, 16, -16, -16), Qt::AlignCenter | Qt::TextWordWrap,
                       tr("Its size is shown beside a person once the unit is chosen."));
            return;
        }
        constexpr double person = 1800;
        const Vec3 size = m_box.sizes() * m_scale;
        const double wide = std::max(size.x(), tolerance::rounding), high = std::max(size.z(), tolerance::rounding);
        const double roomW = width() - 130, roomH = height() - 62;
        const double k = std::min(roomH / std::max(person, high), roomW / (wide + person * 0.4)); // pixels per mm
        const double ground = height() - 32;
        p.setPen(QPen(theme::line(), 1.4));
        p.drawLine(QPointF(12, ground), QPointF(width() - 12, ground));
        drawPerson(p, QPointF(52, ground), person * k);
        const double left = 52 + std::max(person * 0.2 * k, 26.0) + 24;
        const QRectF at(left, ground - high * k, wide * k, high * k);
        if (at.width() < 5 && at.height() < 5) { // too small to see: where it is
            p.setPen(QPen(theme::accent(), 1.4));
            p.setBrush(theme::accent());
            p.drawEllipse(QPointF(left, ground - 2), 2, 2);
            p.drawLine(QPointF(left, ground - 8), QPointF(left, ground - 34));
            p.drawText(QRectF(left - 6, ground - 56, width() - left - 6, 20), Qt::AlignLeft, tr("the part"));
        } else if (m_mesh) {
            PictureView view;
            view.turn << 1, 0, 0, 0, 0, 1, 0, -1, 0; // from the front
            view.centre = m_box.center();
            view.millimetresPerPixel = 1 / (k * m_scale);
            const QSize pixels(std::min(int(at.width()) + 4, width()), std::min(int(at.height()) + 4, height()));
            if (m_drawn.isNull() || m_drawnFor != pixels || m_drawnMesh != m_mesh.get()) {
                m_drawn = drawPart(*m_mesh, view, pixels);
                m_drawnFor = pixels;
                m_drawnMesh = m_mesh.get();
            }
            p.drawImage(QPointF(at.center().x() - pixels.width() / 2.0, at.center().y() - pixels.height() / 2.0),
                        m_drawn);
        } else {
            p.setPen(QPen(theme::steel(), 1.4));
            p.setBrush(QColor("#c9cfcd"));
            p.drawRect(at.height() < 2 ? at.adjusted(0, -2, 0, 0) : at);
        }
        p.setPen(theme::muted());
        p.drawText(QRectF(4, ground + 6, 96, 20), Qt::AlignCenter, tr("person 1.8 m"));
        p.setPen(theme::accent());
        p.drawText(QRectF(104, ground + 6, width() - 112, 20), Qt::AlignLeft | Qt::AlignVCenter,
                   tr("part %1 high, %2 wide").arg(lengthText(size.z(), m_unit), lengthText(size.x(), m_unit)));
    }

private:
    /// An upright figure of round shapes; a mark with an arrow when it would be too small to see.
    void drawPerson(QPainter& p, const QPointF& foot, double h) const {
        p.setPen(Qt::NoPen);
        p.setBrush(theme::muted());
        if (h < 6) {
            p.drawEllipse(foot - QPointF(0, 2), 2, 2);
            p.setPen(QPen(theme::muted(), 1.2));
            p.drawLine(foot - QPointF(0, 8), foot - QPointF(0, 26));
            return;
        }
        p.drawEllipse(foot - QPointF(0, h * 0.935), h * 0.062, h * 0.065);
        QPainterPath body;
        body.addRoundedRect(QRectF(foot.x() - h * 0.105, foot.y() - h * 0.85, h * 0.21, h * 0.38), h * 0.06, h * 0.06);
        body.addRoundedRect(QRectF(foot.x() - h * 0.085, foot.y() - h * 0.6, h * 0.075, h * 0.6), h * 0.035, h * 0.035);
        body.addRoundedRect(QRectF(foot.x() + h * 0.01, foot.y() - h * 0.6, h * 0.075, h * 0.6), h * 0.035, h * 0.035);
        body.setFillRule(Qt::WindingFill);
        p.drawPath(body);
    }

    Unit m_unit;
    std::shared_ptr<const Mesh> m_mesh;
    Box3 m_box;
    double m_scale = 0;
    QImage m_drawn;
    QSize m_drawnFor;
    const Mesh* m_drawnMesh = nullptr;
};

PartInDialog::PartInDialog(PartFile file, const QString& path, Unit shownIn, bool mayBePaths, QWidget* parent)
    : QDialog(parent), m_file(std::move(file)), m_name(QFileInfo(path).completeBaseName()), m_shownIn(shownIn) {
    setObjectName("partIn");
    setWindowTitle(tr("Bring in %1 as a part").arg(QFileInfo(path).fileName()));
    auto* box = m_top = new QVBoxLayout(this);
    box->setContentsMargins(16, 14, 16, 14);
    box->setSpacing(9);
    m_facts = new QLabel;
    m_facts->setWordWrap(true);
    m_facts->setObjectName("partIn.facts");
    box->addWidget(m_facts);
    const bool step = !m_file.bodies.empty(), outline = !m_file.outlines.empty();
    m_unit = unitChoice("partIn.unit", path.endsWith(".svg", Qt::CaseInsensitive), m_file.millimetresPerUnit);
    auto* unitRow = labelled(tr("One unit is"), m_unit);
    box->addWidget(unitRow);
    unitRow->setVisible(!step); // STEP says its unit, and is read in millimetres
    m_thickness = new ValueField(ValueField::Kind::Length, "partIn.thickness", tr("Thickness"),
                                 tr("The outline is raised by it; 0 leaves it flat"));
    m_thickness->setUnit(shownIn);
    m_thickness->setValue(0);
    auto* thicknessRow = labelled(tr("Thickness"), m_thickness);
    box->addWidget(thicknessRow);
    thicknessRow->setVisible(outline);
    auto* middle = new QHBoxLayout;
    m_bodies = new QListWidget;
    m_bodies->setObjectName("partIn.bodies");
    m_bodies->setAccessibleName(tr("Bodies in the file"));
    m_bodies->setToolTip(tr("Tick the bodies that make the part; they move as one"));
    m_bodies->setMinimumWidth(220);
    setRowHeight(m_bodies);
    for (const auto& b : m_file.bodies) {
        m_boxes.push_back(boxOf(*b.solid));
        const Vec3 s = m_boxes.back().sizes();
        auto* item = new QListWidgetItem(tr("%1 \u00b7 %2 \u00d7 %3 \u00d7 %4")
                                             .arg(b.name.c_str(), lengthText(s.x(), shownIn, false),
                                                  lengthText(s.y(), shownIn, false), lengthText(s.z(), shownIn)));
        item->setFlags(item->flags() | Qt::ItemIsUserCheckable);
        item->setCheckState(Qt::Checked);
        m_bodies->addItem(item);
    }
    m_bodies->setVisible(m_file.bodies.size() > 1);
    m_preview = new SizePreview(shownIn);
    middle->addWidget(m_bodies, 1);
    middle->addWidget(m_preview, 1);
    box->addLayout(middle, 1);
    m_size = new QLabel;
    m_size->setObjectName("partIn.size");
    box->addWidget(m_size);
    m_error = new QLabel;
    m_error->setProperty("role", "error");
    m_error->setObjectName("partIn.error");
    m_error->setWordWrap(true);
    box->addWidget(m_error);
    auto* buttons = dialogButtons(this, tr("Bring in"), "partIn.ok");
    m_ok = buttons->findChild<QPushButton*>("partIn.ok");
    if (mayBePaths) {
        auto* other = buttons->addButton(tr("As paths instead"), QDialogButtonBox::ResetRole);
        other->setObjectName("partIn.asPaths");
        other->setToolTip(tr("Take its lines and edges as paths"));
        connect(other, &QPushButton::clicked, this, [this] { done(kAsPaths); });
    }
    box->addWidget(buttons);
    connect(m_unit, &QComboBox::currentIndexChanged, this, &PartInDialog::refresh);
    connect(m_thickness, &ValueField::changed, this, &PartInDialog::refresh);
    connect(m_bodies, &QListWidget::itemChanged, this, &PartInDialog::refresh);
    QStringList facts;
    if (step)
        facts += tr("%n exact solid(s), in the unit the file says: %1.", nullptr, int(m_file.bodies.size()))
                     .arg(m_file.unit.empty() ? tr("millimetre") : QString(m_file.unit.c_str()).toLower());
    else if (outline)
        facts += tr("%n closed outline(s). One inside another is a hole.", nullptr, int(m_file.outlines.size()));
    else
        facts += tr("A mesh of %n triangle(s).", nullptr, int(m_file.brought.body->mesh->triangles.size())) +
                 (m_file.millimetresPerUnit > 0 ? QString() : tr(" Mesh files of this kind do not say their unit."));
    for (size_t i = 0; i < m_file.remarks.size() && i < 6; ++i)
        facts += QString("\u25b2 ") + QString::fromStdString(m_file.remarks[i]);
    m_facts->setText(facts.join('\n'));
    resize(m_file.bodies.size() > 1 ? 720 : 460, 470);
    refresh();
}

std::vector<int> PartInDialog::chosen() const {
    std::vector<int> out;
    for (int i = 0; i < m_bodies->count(); ++i)
        if (m_bodies->item(i)->checkState() == Qt::Checked) out.push_back(i);
    return out;
}

Box3 PartInDialog::chosenBox() const {
    Box3 box;
    if (!m_file.bodies.empty())
        for (int i : chosen()) box.extend(m_boxes[size_t(i)]);
    else if (m_file.brought.body)
        box = m_file.brought.body->mesh->box;
    else
        for (const auto& s : m_file.outlines)
            if (const auto path = Path::make(s.segments, true, 1e-3)) box.extend(path->bounds());
    return box;
}

void PartInDialog::refresh() {
    const double unit = m_unit->currentData().toDouble();
    const bool outline = !m_file.outlines.empty();
    Box3 box = chosenBox();
    QString error;
    std::shared_ptr<const Mesh> mesh = m_file.brought.body ? m_file.brought.body->mesh : nullptr;
    double scale = unit;
    if (!(unit > 0)) {
        error = tr("Choose the unit: the file does not say it.");
    } else if (outline) {
        if (const auto shape = shapeOf(m_file, unit, {}, m_thickness->value().value_or(0))) {
            if (const auto body = build(*shape)) mesh = (*body)->mesh, box = mesh->box, scale = 1;
        } else
            error = QString::fromStdString(shape.problem().text);
    } else if (m_file.bodies.size() > 1) {
        const auto picked = chosen();
        if (picked.empty()) error = tr("Tick at least one body.");
        if (picked.size() != m_file.bodies.size()) { // only these
            std::vector<SolidPtr> solids;
            for (int i : picked) solids.push_back(m_file.bodies[size_t(i)].solid);
            const bool quick = mesh->triangles.size() < 20'000; // else its box says enough
            mesh.reset();
            if (quick && !solids.empty())
                if (const auto body = bodyOf(together(solids))) mesh = (*body)->mesh;
        }
    }
    m_preview->show(mesh, box, error.isEmpty() ? scale : 0);
    const Vec3 s = box.isEmpty() ? Vec3(0, 0, 0) : Vec3(box.sizes() * scale);
    m_size->setText(unit > 0 && !box.isEmpty() ? tr("%1 long, %2 wide, %3 high as it lies in the file")
                                                     .arg(lengthText(s.x(), m_shownIn), lengthText(s.y(), m_shownIn),
                                                          lengthText(s.z(), m_shownIn))
                                               : QString());
    QString doubtful;
    if (error.isEmpty() && mesh && m_file.bodies.empty() && !outline && lostDigits(*mesh) * unit > 0.001)
        doubtful =
            tr("\u25b2 The mesh lies far from its own origin: its points are only good to %1. Move it nearer before "
               "saving the file.")
                .arg(lengthText(lostDigits(*mesh) * unit, m_shownIn));
    m_error->setText(error.isEmpty() ? doubtful : error);
    m_error->setVisible(!m_error->text().isEmpty());
    m_ok->setEnabled(error.isEmpty());
}

void PartInDialog::offerSite(bool body) {
    m_as = new Segmented("partIn.as", {tr("Part"), tr("Site body")},
                         {tr("A shape that runs set along paths"),
                          tr("It stands where it lies in the file; paths, feet and runs can go by it")},
                         300);
    m_as->setCurrent(body ? 1 : 0);
    m_top->insertWidget(1, labelled(tr("Comes as"), m_as));
    m_eachBox = new QCheckBox(tr("Every body of the file by itself"));
    m_eachBox->setObjectName("partIn.each");
    m_eachBox->setToolTip(tr("As many site bodies as are ticked; else they move as one"));
    m_top->insertWidget(2, m_eachBox);
    m_where = new Segmented("partIn.where", {tr("As in the file"), tr("In the view")},
                            {tr("It stands where it lies in the file"),
                             tr("Its foot stands in the middle of what is seen; then it is moved by hand")},
                            300);
    m_where->setCurrent(0);
    auto* where = labelled(tr("Stands"), m_where);
    m_top->insertWidget(3, where);
    const auto look = [this, where] {
        where->setVisible(asBody());
        m_eachBox->setVisible(asBody() && m_file.bodies.size() > 1);
        setWindowTitle((asBody() ? tr("Bring in %1 as a site body") : tr("Bring in %1 as a part")).arg(m_name));
    };
    connect(m_as, &Segmented::picked, this, look);
    look();
}

bool PartInDialog::inView() const { return m_where && m_where->button(1)->isChecked(); }
bool PartInDialog::asBody() const { return m_as && m_as->button(1)->isChecked(); }

void PartInDialog::accept() {
    QApplication::setOverrideCursor(Qt::WaitCursor);
    auto shape = shapeOf(m_file, m_unit->currentData().toDouble(), chosen(), m_thickness->value().value_or(0));
    QApplication::restoreOverrideCursor();
    if (!shape) {
        m_error->setText(QString::fromStdString(shape.problem().text));
        m_error->show();
        return;
    }
    PartItem item;
    item.name = m_name.toStdString();
    const auto picked = chosen();
    if (picked.size() == 1 && !m_file.bodies[size_t(picked[0])].name.empty())
        item.name = m_file.bodies[size_t(picked[0])].name;
    item.shape = std::move(shape).value();
    m_each.clear();
    if (asBody() && m_eachBox->isChecked() && picked.size() > 1)
        for (int i : picked) {
            PartItem one;
            one.name = m_file.bodies[size_t(i)].name;
            auto its = shapeOf(m_file, m_unit->currentData().toDouble(), {i});
            if (!its) { // none is left out unsaid
                m_error->setText(QString("%1: %2").arg(one.name.c_str(), its.problem().text.c_str()));
                m_error->show();
                return;
            }
            one.shape = std::move(its).value();
            m_each.push_back(std::move(one));
        }
    m_part = std::move(item);
    QDialog::accept();
}

} // namespace vicinal
