#include "app/dialogs/template_dialog.h"
#include "app/controls/controls.h"
#include "app/controls/format.h"
#include "app/controls/theme.h"
#include "app/controls/value_rows.h"
#include <QButtonGroup>
#include <QDialogButtonBox>
#include <QFutureWatcher>
#include <QLabel>
#include <QPainter>
#include <QPushButton>
#include <QRadioButton>
#include <QScrollArea>
#include <QStyle>
#include <QTimer>
#include <QVBoxLayout>
#include <QtConcurrentRun>

namespace vicinal {

TemplatePreview::TemplatePreview(QWidget* parent) : QWidget(parent) {
    setObjectName("template.preview");
    setAccessibleName(tr("Preview: the drawing and its pages"));
    setMinimumSize(320, 320);
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Expanding);
}

void TemplatePreview::show(std::shared_ptr<const Template> made) {
    m_template = std::move(made);
    m_lines = {};
    if (m_template)
        for (const Ink& ink : m_template->whole.inks)
            for (const Segment& s : ink.pieces) {
                const auto path = Path::make({s}, false);
                if (!path) continue;
                bool first = true;
                for (const Vec3& p : path->polyline(std::max(0.2, path->length() / 400))) {
                    const QPointF at(p.x(), m_template->whole.height - p.y());
                    first ? m_lines.moveTo(at) : m_lines.lineTo(at);
                    first = false;
                }
            }
    update();
}

void TemplatePreview::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    p.setPen(QPen(theme::line(), 1));
    p.setBrush(theme::field());
    p.drawRoundedRect(QRectF(rect()).adjusted(0.5, 0.5, -0.5, -0.5), 5, 5);
    if (!m_template) return;
    const Template& t = *m_template;
    const QRectF room = QRectF(rect()).adjusted(14, 14, -14, -14);
    const Vec2 whole = (Vec2(t.whole.width, t.whole.height)).cwiseMax(t.covers);
    const double k = std::min(room.width() / whole.x(), room.height() / whole.y());
    p.translate(room.center().x() - k * whole.x() / 2, room.center().y() + k * whole.y() / 2 - k * t.whole.height);
    p.save();
    p.scale(k, k);
    QPen pen(theme::ink(), 0);
    pen.setCosmetic(true);
    p.setPen(pen);
    p.setBrush(Qt::NoBrush);
    p.drawPath(m_lines);
    p.restore();
    p.setBrush(Qt::NoBrush);
    p.setFont(theme::font(11, QFont::DemiBold));
    for (const Template::Tile& tile : t.tiles) {
        const QRectF r(k * tile.from.x(), k * (t.whole.height - tile.to.y()), k * (tile.to - tile.from).x(),
                       k * (tile.to - tile.from).y());
        p.setPen(QPen(tile.empty ? theme::line() : theme::accent(), 1, tile.empty ? Qt::DotLine : Qt::SolidLine));
        p.drawRect(r);
        if (tile.empty || r.width() < 18) continue;
        p.setPen(theme::accent());
        p.drawText(r.adjusted(4, 2, -4, -2), Qt::AlignTop | Qt::AlignLeft, QString::fromStdString(tile.name));
    }
}

TemplateDialog::TemplateDialog(Store& store, QWidget* parent) : QDialog(parent), m_store(store) {
    setObjectName("template");
    setWindowTitle(tr("Template at full size"));
    auto* all = new QVBoxLayout(this);
    all->setContentsMargins(16, 14, 16, 14);
    all->setSpacing(8);
    auto* sides = new QHBoxLayout;
    sides->setSpacing(14);
    auto* left = new QWidget;
    auto* box = new QVBoxLayout(left);
    box->setContentsMargins(0, 0, 4, 0);
    box->setSpacing(7);
    const auto run = store.currentRun();
    auto* every = new QRadioButton(tr("All runs"));
    every->setObjectName("template.all");
    m_current = new QRadioButton(run ? tr("Only %1").arg(run->item->name.c_str()) : tr("Only the selected run"));
    m_current->setObjectName("template.current");
    m_current->setEnabled(run != nullptr);
    (run ? m_current : every)->setChecked(true);
    auto* runs = new QButtonGroup(this);
    for (auto* b : {m_current, every}) {
        runs->addButton(b);
        box->addWidget(b);
    }
    m_rows = new ValueRows(store, "template");
    box->addWidget(m_rows);
    box->addStretch();
    auto* scroll = new QScrollArea;
    scroll->setWidgetResizable(true);
    scroll->setFrameShape(QFrame::NoFrame);
    scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    scroll->setWidget(left);
    scroll->setMinimumWidth(348);
    sides->addWidget(scroll);
    auto* right = new QVBoxLayout;
    m_preview = new TemplatePreview;
    right->addWidget(m_preview, 1);
    m_says = new QLabel;
    m_says->setObjectName("template.says");
    m_says->setWordWrap(true);
    right->addWidget(m_says);
    auto* kinds = new QHBoxLayout;
    m_kinds = new QButtonGroup(this);
    const std::pair<const char*, QString> files[] = {
        {"pdf", tr("PDF, page by page, with proof of scale")}, {"svg", tr("SVG, uncut")}, {"dxf", tr("DXF, uncut")}};
    for (const auto& [name, text] : files) {
        auto* b = new QRadioButton(text);
        b->setObjectName(QString("template.") + name);
        b->setProperty("extension", name);
        b->setChecked(m_kinds->buttons().isEmpty());
        m_kinds->addButton(b);
        kinds->addWidget(b);
    }
    kinds->addStretch();
    right->addLayout(kinds);
    sides->addLayout(right, 1);
    all->addLayout(sides, 1);
    auto* buttons = dialogButtons(this, tr("Choose the file\u2026"), "template.ok");
    m_ok = buttons->findChild<QPushButton*>("template.ok");
    all->addWidget(buttons);
    m_soon = new QTimer(this);
    m_soon->setSingleShot(true);
    m_soon->setInterval(0);
    connect(m_soon, &QTimer::timeout, this, &TemplateDialog::work);
    connect(runs, &QButtonGroup::buttonClicked, this, [this] { m_soon->start(); });
    connect(m_rows, &ValueRows::changed, this,
            [this](const QString&, const std::string& key, double value, int axis, bool) {
                value_rows::setValue(m_order, key, value, axis);
                m_soon->start();
            });
    resize(940, 640);
    work();
}

TemplateDialog::~TemplateDialog() {
    if (m_job) m_job->stop = true;
}

QString TemplateDialog::extension() const { return m_kinds->checkedButton()->property("extension").toString(); }

QString TemplateDialog::title() const {
    const auto run = m_store.currentRun();
    return m_current->isChecked() && run ? QString::fromStdString(run->item->name) : m_store.title().section('.', 0, 0);
}

void TemplateDialog::showValues(const std::optional<Problem>& problem) {
    auto values = value_rows::valuesOf(m_order);
    std::erase_if(values, [&](const ShownValue& v) { return !counts(m_order, v.key); });
    m_rows->show(m_order.paper == Paper::Roll ? "roll" : "", values, problem);
}

/// Behind the window; the newest wish wins.
void TemplateDialog::work() {
    if (m_job) m_job->stop = true;
    m_job = std::make_shared<Job>();
    showValues(std::nullopt);
    m_ok->setEnabled(false);
    std::vector<std::string> names;
    if (m_current->isChecked())
        if (const auto run = m_store.currentRun()) names.push_back(run->item->name);
    const auto runs = chosenRuns(m_store.evaluation(), names);
    if (!runs) return shown(runs.problem());
    using Worked = Result<std::shared_ptr<const Template>>;
    auto* watcher = new QFutureWatcher<std::shared_ptr<Worked>>(this);
    connect(watcher, &QFutureWatcher<std::shared_ptr<Worked>>::finished, this, [this, watcher, job = m_job] {
        watcher->deleteLater();
        if (job == m_job) shown(*watcher->result());
    });
    watcher->setFuture(QtConcurrent::run([runs = *runs, order = m_order, title = title().toStdString(), job = m_job] {
        try {
            auto made = templateOf(runs, order, title, &job->stop);
            return std::make_shared<Worked>(made ? Worked(std::make_shared<const Template>(std::move(made).value()))
                                                 : Worked(made.problem()));
        } catch (const std::exception&) {
            return std::make_shared<Worked>(Problem{"There is not enough memory for this template.", ""});
        }
    }));
}

void TemplateDialog::shown(const Result<std::shared_ptr<const Template>>& made) {
    m_made = made ? *made : nullptr;
    showValues(made ? std::nullopt : std::optional(made.problem()));
    m_preview->show(m_made);
    m_ok->setEnabled(bool(made));
    QString text;
    if (made) {
        const Template& t = **made;
        const Unit unit = m_store.document().unit;
        long pages = 0;
        for (const auto& tile : t.tiles) pages += !tile.empty;
        text = tr("%1 x %2 at full size \u00b7 %n page(s)", nullptr, int(pages))
                   .arg(longLengthText(t.whole.width, unit), longLengthText(t.whole.height, unit));
        if (t.pages.size() > 1) text += tr(" and a map");
        if (t.empty > 0) text += tr(" \u00b7 %n empty one(s) left out", nullptr, int(t.empty));
        for (const Words& w : t.remarks) text += "\n" + m_store.say(w);
    } else if (!m_rows->has(made.problem().field)) {
        text = m_store.say(made.problem().text);
    }
    m_says->setProperty("role", made ? "muted" : "error");
    m_says->style()->polish(m_says);
    m_says->setText(text);
}

} // namespace vicinal
