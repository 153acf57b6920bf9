#include "app/send/send_window.h"
#include "app/controls/controls.h"
#include "app/controls/format.h"
#include "app/controls/theme.h"
#include "app/controls/value_rows.h"
#include "app/send/list_model.h"
#include "app/send/previews.h"
#include "model/document/path_item.h"
#include "model/document/run_item.h"
#include <QButtonGroup>
#include <QCheckBox>
#include <QHeaderView>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QLocale>
#include <QPainter>
#include <QPushButton>
#include <QScrollArea>
#include <QStackedWidget>
#include <QStyle>
#include <QTableView>
#include <QTableWidget>
#include <QTimer>
#include <QVBoxLayout>

namespace vicinal {
namespace {

QString ago(const QDateTime& when) {
    const qint64 minutes = when.secsTo(QDateTime::currentDateTime()) / 60;
    if (minutes < 1) return SendWindow::tr("made just now");
    if (minutes < 60) return SendWindow::tr("made %n min ago", nullptr, int(minutes));
    return SendWindow::tr("made at %1").arg(QLocale().toString(when.time(), QLocale::ShortFormat));
}

/// The results that a delivery shows, to be told apart from later ones.
std::vector<const void*> shownBy(const Delivery& d, const Evaluation& e) {
    std::vector<const void*> out;
    const auto wanted = [&](Id id) {
        return d.what.empty() || std::find(d.what.begin(), d.what.end(), id) != d.what.end();
    };
    for (const auto& s : e.standing())
        if (wanted(s->id)) out.push_back(s.get());
    for (const auto& [id, p] : e.paths)
        if (wanted(id)) out.push_back(p.get());
    return out;
}

} // namespace

bool changedSince(const MadeDelivery& made, const Delivery& now, const Evaluation& e) {
    return made.as != now || shownBy(now, *made.from) != shownBy(now, e);
}

SendWindow::SendWindow(Store& store, MadeDeliveries& made, Picture picture, QWidget* parent)
    : QDialog(parent), m_store(store), m_made(made), m_picture(std::move(picture)) {
    setObjectName("sendOut");
    setWindowTitle(tr("Send out"));
    for (size_t k = 0; k < m_kept.size(); ++k) {
        m_kept[k].first = alternative<SendOrder>(k);
        m_kept[k].second = formatsOf(m_kept[k].first)[0];
    }
    constexpr size_t kFirst = 2; // a drawing: of everything, it is good at once
    m_now.order = m_kept[kFirst].first;
    m_now.format = m_kept[kFirst].second;
    m_now.name = store.title().section('.', 0, 0).toStdString();
    auto* all = new QVBoxLayout(this);
    all->setContentsMargins(0, 0, 0, 0);
    all->setSpacing(0);
    auto* three = new QHBoxLayout;
    three->setSpacing(0);
    three->addWidget(buildLeft());
    three->addWidget(buildMiddle());
    three->addWidget(buildRight(), 1);
    all->addLayout(three, 1);
    all->addWidget(buildFoot());
    for (auto* b : findChildren<QPushButton*>()) b->setAutoDefault(false); // Enter takes a value, and writes nothing
    m_soon = new QTimer(this);
    m_soon->setSingleShot(true);
    m_soon->setInterval(60);
    connect(m_soon, &QTimer::timeout, this, &SendWindow::work);
    resize(1180, 760);
    fillWhat();
    refreshDeliveries();
    changed();
}

SendWindow::~SendWindow() = default;

/// Runs and heaps with their places, site bodies, then paths.
void SendWindow::fillWhat() {
    m_filling = true;
    m_what->clear();
    const auto add = [&](Id id, const QString& name, const QString& value, const QString& tip) {
        auto* item = new QListWidgetItem(value.isEmpty() ? name : name + "   " + value);
        item->setData(kItemId, id);
        item->setToolTip(tip);
        item->setFlags(Qt::ItemIsEnabled | Qt::ItemIsUserCheckable);
        const bool asked = std::find(m_now.what.begin(), m_now.what.end(), id) != m_now.what.end();
        item->setCheckState(m_now.what.empty() || asked ? Qt::Checked : Qt::Unchecked);
        m_what->addItem(item);
    };
    const Evaluation& e = m_store.evaluation();
    for (const auto& s : e.standing())
        add(s->id, s->name.c_str(), QString("\u00b7 %1").arg(s->present()),
            s->problem    ? m_store.say(s->problem->text)
            : s->asBody() ? tr("Site body")
            : s->asHeap() ? tr("Loose parts")
                          : tr("Run"));
    for (const auto& p : m_store.document().paths) {
        if (p->hidden && m_now.what.empty()) continue;
        add(p->id, p->name.c_str(), tr("\u00b7 path"), tr("The path itself, as a curve"));
    }
    setRowHeight(m_what, 24);
    m_everything->setChecked(m_now.what.empty());
    m_filling = false;
}

void SendWindow::takeWhat(QListWidgetItem*) {
    if (m_filling) return;
    m_now.what.clear();
    for (int i = 0; i < m_what->count(); ++i)
        if (m_what->item(i)->checkState() == Qt::Checked) m_now.what.push_back(m_what->item(i)->data(kItemId).toInt());
    m_everything->setChecked(false);
    if (m_now.what.empty()) { // nothing is not everything
        m_now.what = {-1};
    }
    changed();
}

void SendWindow::setWhat(const std::vector<Id>& what) {
    m_now.what = what;
    fillWhat();
    changed();
}

void SendWindow::lookFrom(double heading, double pitch) {
    for (auto& [order, format] : m_kept) {
        if (auto* p = std::get_if<PictureOrder>(&order)) p->heading = heading, p->pitch = pitch;
        if (auto* d = std::get_if<DrawingOrder>(&order)) d->heading = heading, d->pitch = pitch;
    }
    if (m_now.id == 0) m_now.order = m_kept[m_now.order.index()].first;
    changed();
}

void SendWindow::setFace(const Vec3& normal) {
    if (auto* paper = std::get_if<TemplateOrder>(&m_now.order)) {
        paper->plane = TemplatePlane::Face;
        paper->normal = normal;
        changed();
    }
}

void SendWindow::setKind(int kind) {
    const size_t before = m_now.order.index();
    m_kept[before] = {m_now.order, m_now.format};
    m_now.order = m_kept[size_t(kind)].first;
    m_now.format = m_kept[size_t(kind)].second;
    changed();
}

void SendWindow::refreshDeliveries() {
    m_filling = true;
    m_deliveries->clear();
    const auto words = wordsOfAll<SendOrder>();
    for (const auto& d : m_store.document().deliveries) {
        QString sub = tr(words[d->order.index()].label) + " \u00b7 " + QString(d->format.c_str()).toUpper();
        if (const auto made = m_made.find(d->id); made != m_made.end())
            sub += " \u00b7 " + (changedSince(made->second, *d, m_store.evaluation()) ? tr("\u25b2 changed since")
                                                                                      : ago(made->second.when));
        auto* item = new QListWidgetItem(QString::fromStdString(d->name) + "\n" + sub);
        item->setData(kItemId, d->id);
        m_deliveries->addItem(item);
        if (d->id == m_now.id) m_deliveries->setCurrentItem(item);
    }
    setRowHeight(m_deliveries, 42);
    m_makeAll->setEnabled(!m_store.document().deliveries.empty());
    m_filling = false;
    const bool kept = m_store.document().delivery(m_now.id) != nullptr;
    m_remove->setEnabled(kept);
    m_keep->setText(kept ? tr("Keep the change") : tr("Keep as delivery"));
    m_keepNew->setVisible(kept);
}

void SendWindow::load(Id id) {
    const auto d = m_store.document().delivery(id);
    if (!d) return;
    m_now = *d;
    fillWhat();
    changed();
    refreshDeliveries();
}

void SendWindow::keep(bool asNew) {
    if (m_now.what == std::vector<Id>{-1}) return;
    Delivery d = m_now;
    if (asNew) d.id = 0;
    const bool fresh = d.id == 0;
    const Document next = with(m_store.document(), d);
    m_now.id = fresh ? lastId(next) : d.id;
    m_store.edit(next,
                 fresh ? tr("Keep delivery %1").arg(d.name.c_str()) : tr("Change delivery %1").arg(d.name.c_str()));
    if (const auto kept = m_store.document().delivery(m_now.id)) m_now = *kept; // its name may have got a number
    m_name->setText(QString::fromStdString(m_now.name));
    refreshDeliveries();
}

void SendWindow::takeFields() {
    if (m_filling) return;
    m_now.fields.clear();
    for (int row = 0; row < m_fields->rowCount(); ++row) {
        const auto text = [&](int column) {
            const auto* item = m_fields->item(row, column);
            return item ? item->text().trimmed().toStdString() : std::string();
        };
        if (!text(0).empty() || !text(1).empty()) m_now.fields.emplace_back(text(0), text(1));
    }
    changed();
}

void SendWindow::showFields() {
    m_filling = true;
    m_fields->setRowCount(std::min(int(kMostFields), std::max(6, int(m_now.fields.size()) + 1)));
    for (int row = 0; row < m_fields->rowCount(); ++row)
        for (int column = 0; column < 2; ++column) {
            const bool there = size_t(row) < m_now.fields.size();
            const auto& f = there ? m_now.fields[size_t(row)] : std::pair<std::string, std::string>();
            m_fields->setItem(row, column,
                              new QTableWidgetItem(QString::fromStdString(column == 0 ? f.first : f.second)));
        }
    m_filling = false;
}

/// Fields of the kind that is shown; formats; what the buttons say.
void SendWindow::showOrder(const std::optional<Problem>& problem) {
    m_kinds->button(int(m_now.order.index()))->setChecked(true);
    const auto formats = formatsOf(m_now.order);
    if (std::none_of(formats.begin(), formats.end(), [&](const char* f) { return m_now.format == f; }))
        m_now.format = formats[0];
    QStringList names;
    for (const char* f : formats) names += QString(f).toUpper();
    if (!m_formats || m_formats->property("of").toStringList() != names) {
        delete m_formatRow;
        m_formats = new Segmented("send.format", names, names, 220);
        m_formats->setProperty("of", names);
        m_formatRow = labelled(tr("File"), m_formats);
        m_formatPlace->addWidget(m_formatRow);
        connect(m_formats, &Segmented::picked, this, [this](int k) {
            m_now.format = formatsOf(m_now.order)[size_t(k)];
            changed();
        });
    }
    for (size_t k = 0; k < formats.size(); ++k)
        if (m_now.format == formats[k]) m_formats->setCurrent(int(k));
    std::visit(
        [&](const auto& o) {
            auto values = value_rows::valuesOf(o);
            std::erase_if(values, [&](const ShownValue& v) { return !counts(o, v.key); });
            m_rows->show(wordsOf(m_now.order).file, values, problem);
        },
        m_now.order);
    const auto* paper = std::get_if<TemplateOrder>(&m_now.order);
    m_face->setVisible(paper && paper->of == TemplateOf::Places && paper->plane == TemplatePlane::Face);
    const bool drawing = std::holds_alternative<DrawingOrder>(m_now.order);
    m_fieldsBox->setVisible(drawing);
    if (drawing && !m_fields->hasFocus()) showFields();
    // A space at its end may be one in the middle yet.
    if (m_name->text().trimmed() != QString::fromStdString(m_now.name))
        m_name->setText(QString::fromStdString(m_now.name));
    if (m_folder->text().trimmed() != QString::fromStdString(m_now.folder))
        m_folder->setText(QString::fromStdString(m_now.folder));
    m_write->setText(tr("Write %1\u2026").arg(QString::fromStdString(fileNameOf(m_now))));
    m_copy->setVisible(std::holds_alternative<PictureOrder>(m_now.order));
}

void SendWindow::changed() {
    showOrder(std::nullopt);
    for (QPushButton* b : {m_write, m_keep, m_keepNew, m_copy}) b->setEnabled(false); // until it is known to work
    m_soon->start();
}

/// Behind the window; the newest wish wins.
void SendWindow::work() {
    m_write->setEnabled(false);
    m_work.run(
        [now = m_now, e = m_store.sharedEvaluation()](Job& job) -> Prepared {
            auto made = prepare(now, *e, &job);
            if (!made) return made.problem();
            return std::make_shared<const Ready>(std::move(made).value());
        },
        [this](std::optional<Prepared> made) {
            shown(made ? *made : Prepared(Problem{"There is not enough memory for this.", ""}));
        });
}

void SendWindow::shown(const Prepared& made) {
    m_ready = made ? *made : nullptr;
    showOrder(made ? std::nullopt : std::optional(made.problem()));
    for (QPushButton* b : {m_write, m_keep, m_keepNew, m_copy}) b->setEnabled(bool(made));
    QString text;
    if (made) {
        QStringList facts;
        for (const auto& f : m_ready->says) facts += QString::fromStdString(f);
        m_size->setText(facts.join(" \u00b7 "));
        QStringList remarks;
        for (const Words& w : m_ready->remarks) remarks += m_store.say(w);
        text = remarks.isEmpty() ? tr("\u2713 %1").arg(facts.value(0)) : "\u25b2 " + remarks.join("\n\u25b2 ");
        m_says->setProperty("role", remarks.isEmpty() ? "muted" : "doubt");
    } else {
        m_size->clear();
        text = m_store.say(made.problem().text);
        m_says->setProperty("role", "error");
    }
    m_says->style()->polish(m_says);
    m_says->setText(text);
    m_page = 0;
    showPreview();
}

void SendWindow::showPreview() {
    size_t pages = 0;
    if (!m_ready) {
        m_template->show(nullptr);
        m_sheet->show(nullptr);
        m_list->show(nullptr);
        m_image->show({});
    } else if (m_ready->paper && m_page == 0) {
        m_template->show(m_ready->paper);
        m_stack->setCurrentWidget(m_template);
        pages = m_ready->paper->pages.size() + 1; // the whole first, then page by page
    } else if (m_ready->paper) {
        pages = m_ready->paper->pages.size() + 1;
        m_sheet->show({m_ready, &m_ready->paper->pages[size_t(m_page) - 1]});
        m_stack->setCurrentWidget(m_sheet);
    } else if (m_ready->list) {
        m_list->show(m_ready->list.get());
        m_table->resizeColumnsToContents();
        m_stack->setCurrentWidget(m_table);
    } else if (!m_ready->pages.empty()) {
        pages = m_ready->pages.size();
        m_sheet->show({m_ready, &m_ready->pages[size_t(m_page)]});
        m_stack->setCurrentWidget(m_sheet);
    } else {
        m_image->show(m_picture(m_now, m_image->size().expandedTo(QSize(480, 320))));
        m_stack->setCurrentWidget(m_image);
    }
    for (QWidget* w : {static_cast<QWidget*>(m_before), static_cast<QWidget*>(m_next), static_cast<QWidget*>(m_pageOf)})
        w->setVisible(pages > 1);
    m_before->setEnabled(m_page > 0);
    m_next->setEnabled(m_page + 1 < int(pages));
    const int overview = m_ready && m_ready->paper ? 1 : 0; // the whole, before the pages
    m_pageOf->setText(overview > m_page ? tr("whole")
                                        : tr("page %1 of %2").arg(m_page + 1 - overview).arg(int(pages) - overview));
}

void SendWindow::turn(int by) {
    m_page = std::max(0, m_page + by);
    showPreview();
}

} // namespace vicinal
