#include "app/dialogs/bring_in_dialog.h"
#include "app/controls/controls.h"
#include "app/controls/format.h"
#include "app/controls/theme.h"
#include "app/controls/value_field.h"
#include "app/state/background.h"
#include "exchange/in/path_items.h"
#include "model/document/path_item.h"
#include "model/file/document_file.h"
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
        const double w = std::max(box.sizes().x(), tolerance::rounding),
                     h = std::max(box.sizes().y(), tolerance::rounding);
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
    auto loaded =
        inBackground<Loaded>(parent, tr("Reading %1\u2026").arg(QFileInfo(file).fileName()), [file](Job& job) {
            Loaded out;
            out.file = file;
            out.csv = isPointFile(file.toStdString());
            if (!out.csv) {
                if (auto r = readCurves(file.toStdString(), &job.stop))
                    out.curves = std::move(r).value();
                else
                    out.problem = QString::fromStdString(r.problem().text);
                return out;
            }
            const auto r = readPointFile(file.toStdString());
            if (r)
                out.points = *r;
            else
                out.problem = QString::fromStdString(r.problem().text);
            return out;
        });
    if (loaded) return *loaded;
    Loaded none;
    none.cancelled = true;
    return none;
}

BringInDialog::BringInDialog(Loaded loaded, Unit shownIn, bool mayBePart, QWidget* parent)
    : QDialog(parent), m_file(loaded.file), m_csv(loaded.csv), m_shownIn(shownIn), m_curves(std::move(loaded.curves)),
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
    m_unit = unitChoice("bringIn.unit", file.endsWith(".svg", Qt::CaseInsensitive),
                        m_curves ? m_curves->millimetresPerUnit : 0);
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
    setRowHeight(m_list);
    m_preview = new PlanPreview;
    row->addWidget(m_list, 1);
    row->addWidget(m_preview, 1);
    box->addWidget(middle, 1);
    m_error = new QLabel;
    m_error->setProperty("role", "error");
    m_error->setObjectName("bringIn.error");
    m_error->setWordWrap(true);
    box->addWidget(m_error);
    auto* buttons = dialogButtons(this, tr("Bring in"), "bringIn.ok");
    m_ok = buttons->findChild<QPushButton*>("bringIn.ok");
    if (mayBePart) {
        auto* other = buttons->addButton(tr("As a part instead"), QDialogButtonBox::ResetRole);
        other->setObjectName("bringIn.asPart");
        other->setToolTip(tr("Take its closed outlines or bodies as one part"));
        connect(other, &QPushButton::clicked, this, [this] { done(kAsPart); });
    }
    box->addWidget(buttons);
    joinRow->setVisible(!m_csv);
    m_list->setVisible(!m_csv);
    m_smooth->setVisible(m_csv);
    m_closed->setVisible(m_csv);
    connectAll();
    resize(640, 460);
    read();
}

void BringInDialog::connectAll() {
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
    }
    m_layerRow->setVisible(layers.size() > 1);
}

void BringInDialog::read() {
    const double unit = this->unit();
    m_strands.clear();
    m_lines.clear();
    m_list->blockSignals(true);
    m_list->clear();
    if (!m_csv && m_curves && unit > 0) {
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
    m_list->blockSignals(false);
    refresh();
}

std::vector<PathItem> BringInDialog::paths() const {
    std::vector<PathItem> out;
    const double unit = this->unit();
    std::vector<Strand> ticked;
    for (int i = 0; i < int(m_strands.size()); ++i)
        if (shown(i) && m_list->item(i)->checkState() == Qt::Checked) ticked.push_back(m_strands[size_t(i)]);
    out = pathItems(ticked, m_file.toStdString());
    if (m_csv && unit > 0)
        out.push_back(pointsItem(m_points, unit, m_smooth->isChecked(), m_closed->isChecked(), m_file.toStdString()));
    return out;
}

double BringInDialog::unit() const { return m_unit->currentData().toDouble(); }

bool BringInDialog::shown(int strand) const {
    const QVariant layer = m_layer->currentData();
    return !layer.isValid() || layer.toString() == m_strands[size_t(strand)].layer.c_str();
}

void BringInDialog::refresh() {
    const bool known = m_unit->currentIndex() > 0;
    QString facts, error;
    std::vector<std::vector<Vec3>> lines;
    std::vector<bool> chosen;
    bool usable = false;
    if (!m_csv && m_curves) {
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
    } else if (m_csv) {
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
    }
    if (!known) error = tr("Choose the unit: the file does not say it.");
    m_facts->setText(facts);
    m_error->setText(error);
    m_error->setVisible(!error.isEmpty());
    m_preview->show(std::move(lines), std::move(chosen));
    m_ok->setEnabled(known && usable);
}

} // namespace vicinal
