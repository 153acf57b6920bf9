#include "app/bring_in_dialog.h"
#include "app/controls.h"
#include "app/format.h"
#include "app/theme.h"
#include "app/value_field.h"
#include "model/document_file.h"
#include <QCheckBox>
#include <QComboBox>
#include <QDialogButtonBox>
#include <QFileInfo>
#include <QLabel>
#include <QListWidget>
#include <QPainter>
#include <QPushButton>
#include <QVBoxLayout>

namespace vicinal {
namespace {

constexpr double kUnits[] = {0, 1, 10, 1000, 25.4, 304.8};

QString kindOf(const QString& file) {
    const QString s = QFileInfo(file).suffix().toLower();
    return s == "dxf" ? "dxf" : s == "csv" || s == "txt" ? "csv" : "mesh";
}

} // namespace

/// Paths seen from above, fitted into the widget.
class PlanPreview : public QWidget {
public:
    PlanPreview() { setMinimumSize(260, 200); }
    void show(std::vector<std::vector<Vec3>> lines, std::vector<bool> chosen) {
        m_lines = std::move(lines);
        m_chosen = std::move(chosen);
        update();
    }
    void paintEvent(QPaintEvent*) override {
        QPainter p(this);
        p.setRenderHint(QPainter::Antialiasing);
        p.setPen(theme::line());
        p.setBrush(theme::field());
        p.drawRoundedRect(QRectF(rect()).adjusted(0.5, 0.5, -0.5, -0.5), 5, 5);
        Box3 box;
        for (const auto& l : m_lines)
            for (const auto& v : l) box.extend(v);
        if (box.isEmpty()) return;
        const double w = std::max(box.sizes().x(), 1e-9), h = std::max(box.sizes().y(), 1e-9);
        const double k = std::min((width() - 24) / w, (height() - 24) / h);
        const QPointF middle(width() / 2.0, height() / 2.0);
        for (size_t i = 0; i < m_lines.size(); ++i) {
            QPolygonF line;
            for (const auto& v : m_lines[i])
                line << middle + QPointF((v.x() - box.center().x()) * k, -(v.y() - box.center().y()) * k);
            p.setPen(QPen(m_chosen[i] ? theme::accent() : theme::line(), m_chosen[i] ? 2 : 1.4));
            p.drawPolyline(line);
            p.setBrush(m_chosen[i] ? theme::accent() : theme::line());
            p.setPen(Qt::NoPen);
            p.drawEllipse(line.front(), 3, 3);
        }
    }

private:
    std::vector<std::vector<Vec3>> m_lines;
    std::vector<bool> m_chosen;
};

QString BringInDialog::problemOf(const QString& file) {
    const QString name = QFileInfo(file).fileName();
    if (kindOf(file) == "dxf") {
        const auto r = readDxf(file.toStdString());
        return r ? QString() : QString::fromStdString(r.problem().text);
    }
    if (kindOf(file) == "csv") {
        const auto text = readFile(file.toStdString());
        if (!text) return QString::fromStdString(text.problem().text);
        const auto r = readPoints(*text);
        return r ? QString() : name + ": " + QString::fromStdString(r.problem().text);
    }
    const auto r = bringInPart(file.toStdString(), 1);
    return r ? QString() : QString::fromStdString(r.problem().text);
}

BringInDialog::BringInDialog(const QString& file, Unit shownIn, QWidget* parent)
    : QDialog(parent), m_file(file), m_kind(kindOf(file)), m_shownIn(shownIn) {
    setObjectName("bringIn");
    setWindowTitle(tr("Bring in %1").arg(QFileInfo(file).fileName()));
    auto* box = new QVBoxLayout(this);
    box->setContentsMargins(16, 14, 16, 14);
    box->setSpacing(9);
    m_facts = new QLabel;
    m_facts->setWordWrap(true);
    m_facts->setObjectName("bringIn.facts");
    box->addWidget(m_facts);
    m_unit = new QComboBox;
    m_unit->setObjectName("bringIn.unit");
    m_unit->setAccessibleName(tr("Unit of the file"));
    m_unit->setToolTip(tr("What one unit of the file is"));
    m_unit->addItems(
        {tr("choose the unit\u2026"), tr("millimetres"), tr("centimetres"), tr("metres"), tr("inches"), tr("feet")});
    box->addWidget(labelled(tr("One unit is"), m_unit));
    m_join = new ValueField(ValueField::Kind::Length, "join", tr("Join ends within"),
                            tr("Ends closer than this are joined to one path; a gap is bridged by a straight piece"));
    m_join->setUnit(shownIn);
    m_join->setValue(0.1);
    m_join->setStep(0.1);
    auto* joinRow = labelled(tr("Join ends within"), m_join);
    box->addWidget(joinRow);
    m_smooth = new QCheckBox(tr("Smooth curve through the points"));
    m_smooth->setObjectName("bringIn.smooth");
    m_smooth->setToolTip(tr("Off: straight legs with corners"));
    m_smooth->setChecked(true);
    m_closed = new QCheckBox(tr("Closed: the last point leads back to the first"));
    m_closed->setObjectName("bringIn.closed");
    box->addWidget(m_smooth);
    box->addWidget(m_closed);
    auto* middle = new QWidget;
    auto* row = new QHBoxLayout(middle);
    row->setContentsMargins(0, 0, 0, 0);
    m_list = new QListWidget;
    m_list->setObjectName("bringIn.list");
    m_list->setAccessibleName(tr("Paths in the file"));
    m_list->setToolTip(tr("Tick the paths to bring in"));
    m_list->setMinimumWidth(260);
    m_preview = new PlanPreview;
    row->addWidget(m_list, 1);
    row->addWidget(m_preview, 1);
    box->addWidget(middle, 1);
    m_error = new QLabel;
    m_error->setProperty("role", "error");
    m_error->setObjectName("bringIn.error");
    m_error->setWordWrap(true);
    box->addWidget(m_error);
    auto* buttons = new QDialogButtonBox(QDialogButtonBox::Cancel);
    m_ok = buttons->addButton(tr("Bring in"), QDialogButtonBox::AcceptRole);
    m_ok->setObjectName("bringIn.ok");
    m_ok->setProperty("kind", "primary");
    box->addWidget(buttons);
    joinRow->setVisible(m_kind == "dxf");
    m_list->setVisible(m_kind == "dxf");
    m_smooth->setVisible(m_kind == "csv");
    m_closed->setVisible(m_kind == "csv");
    middle->setVisible(m_kind != "mesh");
    connect(buttons, &QDialogButtonBox::accepted, this, &QDialog::accept);
    connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
    connect(m_unit, &QComboBox::currentIndexChanged, this, &BringInDialog::read);
    connect(m_join, &ValueField::changed, this, &BringInDialog::read);
    connect(m_smooth, &QCheckBox::toggled, this, &BringInDialog::refresh);
    connect(m_closed, &QCheckBox::toggled, this, &BringInDialog::refresh);
    connect(m_list, &QListWidget::itemChanged, this, &BringInDialog::refresh);

    if (m_kind == "dxf") {
        if (auto r = readDxf(file.toStdString())) m_curves = std::move(r).value();
        if (m_curves && m_curves->millimetresPerUnit > 0)
            for (int i = 1; i < 6; ++i)
                if (std::abs(kUnits[i] - m_curves->millimetresPerUnit) < 1e-9)
                    m_unit->setCurrentIndex(i); // the file says so itself
    } else if (m_kind == "csv") {
        if (const auto text = readFile(file.toStdString()))
            if (auto r = readPoints(*text)) m_points = std::move(r).value();
    }
    resize(m_kind == "mesh" ? 420 : 640, m_kind == "mesh" ? 200 : 460);
    read();
}

void BringInDialog::read() {
    const double unit = kUnits[m_unit->currentIndex()];
    m_strands.clear();
    m_part.reset();
    m_list->blockSignals(true);
    m_list->clear();
    if (m_kind == "dxf" && m_curves && unit > 0) {
        auto file = *m_curves;
        if (auto r = pathsOf(file, unit, m_join->value().value_or(0))) m_strands = std::move(r).value();
        for (const auto& s : m_strands) {
            const auto path = Path::make(s.segments, s.closed);
            auto* item = new QListWidgetItem(
                tr("%1 \u00b7 %2 \u00b7 %3")
                    .arg(s.layer.empty() ? tr("no layer") : QString(s.layer.c_str()),
                         lengthText(path->length(), m_shownIn),
                         s.closed ? tr("closed") : tr("%n piece(s)", nullptr, int(s.segments.size()))));
            item->setFlags(item->flags() | Qt::ItemIsUserCheckable);
            item->setCheckState(Qt::Checked);
            m_list->addItem(item);
        }
    }
    if (m_kind == "mesh" && unit > 0)
        if (auto r = bringInPart(m_file.toStdString(), unit)) m_part = std::move(r).value();
    m_list->blockSignals(false);
    refresh();
}

std::vector<PathItem> BringInDialog::paths() const {
    std::vector<PathItem> out;
    const std::string source = QFileInfo(m_file).fileName().toStdString(),
                      stem = QFileInfo(m_file).completeBaseName().toStdString();
    const double unit = kUnits[m_unit->currentIndex()];
    for (int i = 0; i < int(m_strands.size()); ++i) {
        if (m_list->item(i)->checkState() != Qt::Checked) continue;
        PathItem item;
        item.name = m_strands[i].layer.empty() || m_strands[i].layer == "0" ? stem : m_strands[i].layer;
        BroughtCurve curve{m_strands[i].segments, m_strands[i].closed, source};
        if (auto points = asPoints(curve))
            item.recipe = std::move(*points); // straight legs stay editable
        else
            item.recipe = std::move(curve);
        out.push_back(std::move(item));
    }
    if (m_kind == "csv" && unit > 0) {
        PointsRecipe recipe;
        recipe.closed = m_closed->isChecked();
        for (const auto& p : m_points) recipe.points.push_back({p * unit, m_smooth->isChecked()});
        out.push_back({0, stem, recipe});
    }
    return out;
}

std::optional<PartItem> BringInDialog::part() const { return m_part; }

void BringInDialog::refresh() {
    const bool known = m_unit->currentIndex() > 0;
    QString facts, error;
    std::vector<std::vector<Vec3>> lines;
    std::vector<bool> chosen;
    bool usable = false;
    if (m_kind == "dxf" && m_curves) {
        facts = tr("%n curve(s) in the file", nullptr, int(m_curves->strands.size()));
        if (known) facts += tr(", %n path(s) when joined.", nullptr, int(m_strands.size()));
        for (const auto& r : m_curves->remarks) facts += "\n" + QString::fromStdString(r);
        for (int i = 0; i < int(m_strands.size()); ++i) {
            const auto path = Path::make(m_strands[i].segments, m_strands[i].closed);
            lines.push_back(path->polyline(path->length() / 4000));
            chosen.push_back(m_list->item(i)->checkState() == Qt::Checked);
            usable = usable || chosen.back();
        }
        if (known && !usable) error = tr("Tick at least one path.");
    } else if (m_kind == "csv") {
        facts = tr("%n point(s) in the file.", nullptr, int(m_points.size()));
        for (const auto& item : paths()) {
            const auto path = build(item.recipe);
            if (!path) {
                error = QString::fromStdString(path.problem().text);
                continue;
            }
            usable = true;
            lines.push_back(path->path.polyline(path->path.length() / 4000));
            chosen.push_back(true);
            facts += tr(" The path is %1 long.").arg(lengthText(path->path.length(), m_shownIn));
        }
    } else if (m_kind == "mesh") {
        facts = tr("A mesh to use as a part. Mesh files do not say their unit.");
        if (m_part) {
            const auto& mesh = *std::get<BroughtMesh>(m_part->shape).mesh;
            const Vec3 s = mesh.box.sizes();
            facts = tr("%n triangle(s); ", nullptr, int(mesh.triangles.size())) +
                    tr("%1 \u00d7 %2 \u00d7 %3 in the document's unit.")
                        .arg(lengthText(s.x(), m_shownIn), lengthText(s.y(), m_shownIn), lengthText(s.z(), m_shownIn));
            if (lostDigits(mesh) > 0.001)
                error = tr("\u25b2 The mesh lies far from its own origin: its points are only good to %1. Move it "
                           "nearer before saving the file.")
                            .arg(lengthText(lostDigits(mesh), m_shownIn));
            usable = true;
        }
    }
    if (!known) error = tr("Choose the unit: the file does not say it.");
    m_facts->setText(facts);
    m_error->setText(error);
    m_error->setVisible(!error.isEmpty());
    m_preview->show(std::move(lines), std::move(chosen));
    m_ok->setEnabled(known && usable);
}

} // namespace vicinal
