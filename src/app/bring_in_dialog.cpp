#include "app/bring_in_dialog.h"
#include "app/controls.h"
#include "app/format.h"
#include "app/theme.h"
#include "app/value_field.h"
#include "model/document_file.h"
#include <QCheckBox>
#include <QComboBox>
#include <QCoreApplication>
#include <QDialogButtonBox>
#include <QElapsedTimer>
#include <QFileInfo>
#include <QLabel>
#include <QListWidget>
#include <QPainter>
#include <QProgressDialog>
#include <QPushButton>
#include <QThread>
#include <QVBoxLayout>
#include <QtConcurrentRun>

namespace vicinal {
namespace {

QString kindOf(const QString& file) {
    const QString s = QFileInfo(file).suffix().toLower();
    if (s == "csv" || s == "txt") return "csv";
    if (s == "dxf" || s == "svg" || s == "step" || s == "stp") return "curves";
    if (s == "obj") // lines without faces are paths, anything else is a part
        if (const auto text = readFile(file.toStdString()))
            if (text->find("\nf ") == std::string::npos &&
                (text->find("\nl ") != std::string::npos || text->starts_with("l ")))
                return "curves";
    return "mesh";
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

BringInDialog::Loaded BringInDialog::load(const QString& file, QWidget* parent) {
    Stop stop = false;
    const auto work = QtConcurrent::run([&file, &stop] {
        Loaded out;
        out.file = file;
        out.kind = kindOf(file);
        if (out.kind == "curves") {
            if (auto r = readCurves(file.toStdString(), &stop))
                out.curves = std::move(r).value();
            else
                out.problem = QString::fromStdString(r.problem().text);
        } else if (out.kind == "csv") {
            const auto text = readFile(file.toStdString());
            const auto r = text ? readPoints(*text) : Result<std::vector<Vec3>>(text.problem());
            if (r)
                out.points = *r;
            else
                out.problem =
                    (text ? QFileInfo(file).fileName() + ": " : QString()) + QString::fromStdString(r.problem().text);
        } else if (const auto r = bringInPart(file.toStdString(), 1); !r)
            out.problem = QString::fromStdString(r.problem().text);
        return out;
    });
    QElapsedTimer waited;
    waited.start();
    std::unique_ptr<QProgressDialog> progress;
    while (!work.isFinished()) {
        if (!progress && waited.elapsed() > 400) {
            progress = std::make_unique<QProgressDialog>(tr("Reading %1\u2026").arg(QFileInfo(file).fileName()),
                                                         tr("Cancel"), 0, 0, parent);
            progress->setObjectName("bringIn.progress");
            progress->setWindowModality(Qt::WindowModal);
            progress->show();
        }
        if (progress && progress->wasCanceled()) stop = true;
        if (progress) QCoreApplication::processEvents(QEventLoop::AllEvents, 20);
        QThread::msleep(2);
    }
    Loaded out = work.result();
    out.cancelled = stop;
    return out;
}

BringInDialog::BringInDialog(Loaded loaded, Unit shownIn, QWidget* parent)
    : QDialog(parent), m_file(loaded.file), m_kind(loaded.kind), m_shownIn(shownIn), m_curves(std::move(loaded.curves)),
      m_points(std::move(loaded.points)) {
    const QString& file = m_file;
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
    const std::pair<QString, double> units[] = {{tr("choose the unit\u2026"), 0},
                                                {tr("millimetres"), 1},
                                                {tr("centimetres"), 10},
                                                {tr("metres"), 1000},
                                                {tr("inches"), 25.4},
                                                {tr("feet"), 304.8}};
    for (const auto& [name, mm] : units) m_unit->addItem(name, mm);
    if (file.endsWith(".svg", Qt::CaseInsensitive)) {
        m_unit->addItem(tr("pixels, 96 to the inch"), 25.4 / 96);
        m_unit->addItem(tr("points, 72 to the inch"), 25.4 / 72);
    }
    box->addWidget(labelled(tr("One unit is"), m_unit));
    m_join = new ValueField(ValueField::Kind::Length, "join", tr("Join ends within"),
                            tr("Ends closer than this are joined to one path; a gap is bridged by a straight piece"));
    m_join->setUnit(shownIn);
    m_join->setValue(0.1);
    m_join->setStep(0.1);
    auto* joinRow = labelled(tr("Join ends within"), m_join);
    box->addWidget(joinRow);
    m_layer = new QComboBox;
    m_layer->setObjectName("bringIn.layer");
    m_layer->setToolTip(tr("Show and bring in only what lies on this layer (or in this group) of the file"));
    m_layerRow = labelled(tr("Layer"), m_layer);
    box->addWidget(m_layerRow);
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
    joinRow->setVisible(m_kind == "curves");
    m_list->setVisible(m_kind == "curves");
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

    connect(m_layer, &QComboBox::activated, this, &BringInDialog::refresh);
    QStringList layers;
    if (m_curves) {
        for (const auto& s : m_curves->strands)
            if (const QString l = s.layer.c_str(); !layers.contains(l) && layers.size() < 500) layers += l;
        layers.sort();
        m_layer->addItem(tr("all layers"), QVariant());
        for (const auto& l : layers) m_layer->addItem(l.isEmpty() ? tr("no layer") : l, l);
        if (const double mm = m_curves->millimetresPerUnit; mm > 0) { // the file says so itself
            int at = -1;
            for (int i = 1; i < m_unit->count() && at < 0; ++i)
                if (std::abs(m_unit->itemData(i).toDouble() - mm) < 1e-9) at = i;
            if (at < 0) {
                m_unit->addItem(tr("as the file says: %1 mm").arg(mm, 0, 'g', 8), mm);
                at = m_unit->count() - 1;
            }
            m_unit->setCurrentIndex(at);
        }
    }
    m_layerRow->setVisible(layers.size() > 1);
    resize(m_kind == "mesh" ? 420 : 640, m_kind == "mesh" ? 200 : 460);
    read();
}

void BringInDialog::read() {
    const double unit = this->unit();
    m_strands.clear();
    m_lines.clear();
    m_part.reset();
    m_list->blockSignals(true);
    m_list->clear();
    if (m_kind == "curves" && m_curves && unit > 0) {
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
            m_lines.push_back(path->polyline(path->length() / 4000));
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
    const double unit = this->unit();
    for (int i = 0; i < int(m_strands.size()); ++i) {
        if (!shown(i) || m_list->item(i)->checkState() != Qt::Checked) continue;
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

double BringInDialog::unit() const { return m_unit->currentData().toDouble(); }

bool BringInDialog::shown(int strand) const {
    const QVariant layer = m_layer->currentData();
    return !layer.isValid() || layer.toString() == m_strands[size_t(strand)].layer.c_str();
}

std::optional<PartItem> BringInDialog::part() const { return m_part; }

void BringInDialog::refresh() {
    const bool known = m_unit->currentIndex() > 0;
    QString facts, error;
    std::vector<std::vector<Vec3>> lines;
    std::vector<bool> chosen;
    bool usable = false;
    if (m_kind == "curves" && m_curves) {
        facts = tr("%n curve(s) in the file", nullptr, int(m_curves->strands.size()));
        if (known) facts += tr(", %n path(s) when joined.", nullptr, int(m_strands.size()));
        for (size_t i = 0; i < m_curves->remarks.size() && i < 6; ++i)
            facts += "\n" + QString::fromStdString(m_curves->remarks[i]);
        if (m_curves->remarks.size() > 6)
            facts += "\n" + tr("and %n more remark(s).", nullptr, int(m_curves->remarks.size()) - 6);
        m_list->blockSignals(true);
        for (int i = 0; i < int(m_strands.size()); ++i) {
            m_list->item(i)->setHidden(!shown(i));
            lines.push_back(m_lines[i]);
            chosen.push_back(shown(i) && m_list->item(i)->checkState() == Qt::Checked);
            usable = usable || chosen.back();
        }
        m_list->blockSignals(false);
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
