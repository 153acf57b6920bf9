#include "app/sheet/run/more_sections.h"
#include "app/controls/controls.h"
#include "app/controls/format.h"
#include "app/controls/value_field.h"
#include "app/sheet/run/spacing/sequence_row.h"
#include "app/sheet/run/sweep_graph.h"
#include "app/state/background.h"
#include "layout/spacing/limits.h"
#include "layout/spacing/rules.h"
#include "model/document/part_item.h"
#include "model/document/run_item.h"
#include "model/edits/typed/sequence_text.h"
#include <QLabel>
#include <QLineEdit>
#include <QMenu>
#include <QPushButton>
#include <QVBoxLayout>

namespace vicinal {

using value_rows::valuesOf;

namespace {

/// Writes a described value into one of a run's members.
QPushButton* addButton(QHBoxLayout* line, const QString& text, const char* name, const QString& tip) {
    auto* b = new QPushButton(text);
    b->setObjectName(name);
    b->setToolTip(tip);
    b->setStyleSheet("QPushButton { padding: 4px 8px; }"); // four have to stand side by side in the sheet
    line->addWidget(b);
    return b;
}

} // namespace

SequenceSection::SequenceSection(Store& store, QWidget* parent) : RunSection(store, parent) {
    buildRow();
    m_rows["sequence"] =
        labelled(tr("Parts"),
                 makeText("sequence", tr("Sequence"),
                          tr("Parts in the order they are set, with commas: Post, 5 x Baluster. Weights in brackets: "
                             "Grey slab (3), Red slab (1). Empty: the run's own part everywhere.")));
    m_box->addWidget(m_rows["sequence"]);
    for (const auto& v : valuesOf(Sequence{})) addRow(v, putInto<&RunItem::sequence>);
}

void SequenceSection::buildRow() {
    m_row = new SequenceRow(m_store);
    m_box->addWidget(m_row);
    auto* line = new QHBoxLayout;
    line->setSpacing(4);
    const auto button = [&](const QString& text, const char* name, const QString& tip) {
        return addButton(line, text, name, tip);
    };
    m_add = button(tr("Add"), "sequence.add", tr("Another part behind the one in hand, or at the end"));
    auto* menu = new QMenu(m_add);
    menu->setObjectName("sequence.parts");
    m_add->setMenu(menu);
    connect(menu, &QMenu::aboutToShow, this, [this, menu] {
        menu->clear();
        for (const auto& part : m_store.document().parts)
            menu->addAction(part->name.c_str(), this, [this, id = part->id] {
                edit(tr("Add to the sequence"), [id](auto& steps, int at) {
                    steps.insert(at < 0 ? steps.end() : steps.begin() + at + 1, SequenceStep{id, 1, 1});
                });
            });
    });
    m_more = button(QString::fromUtf8("\u00d7 +"), "sequence.more", tr("Once more of the part in hand"));
    m_less = button(QString::fromUtf8("\u00d7 \u2212"), "sequence.less", tr("Once less of the part in hand"));
    m_remove = button(tr("Take out"), "sequence.remove", tr("Take the part in hand out of the sequence"));
    m_box->addLayout(line);
    connect(m_row, &SequenceRow::currentChanged, this, [this] {
        if (const auto run = m_store.currentRun()) refresh(*run);
    });
    connect(m_row, &SequenceRow::moved, this, [this](int from, int to) {
        edit(tr("Move in the sequence"), [=](auto& steps, int) {
            const SequenceStep step = steps[size_t(from)];
            steps.erase(steps.begin() + from);
            steps.insert(steps.begin() + to, step);
        });
        m_row->setCurrent(to);
    });
    connect(m_more, &QPushButton::clicked, this,
            [this] { edit(tr("Repeat in the sequence"), [](auto& steps, int at) { ++steps[size_t(at)].repeat; }); });
    connect(m_less, &QPushButton::clicked, this,
            [this] { edit(tr("Repeat in the sequence"), [](auto& steps, int at) { --steps[size_t(at)].repeat; }); });
    connect(m_remove, &QPushButton::clicked, this, [this] {
        edit(tr("Take out of the sequence"), [](auto& steps, int at) { steps.erase(steps.begin() + at); });
    });
}

void SequenceSection::edit(const QString& name, const std::function<void(std::vector<SequenceStep>&, int)>& how) {
    const auto run = m_store.currentRun();
    if (!run) return;
    std::vector<SequenceStep> steps = run->item->sequence.steps;
    if (steps.empty()) steps = {{run->item->part, 1, 1}};
    how(steps, m_row->current());
    if (steps.size() == 1 && steps[0] == SequenceStep{run->item->part, 1, 1}) steps.clear(); // as without one
    change(name, {}, [&](RunItem& r) { r.sequence.steps = steps; });
}

void SequenceSection::refresh(const RunResult& run) {
    const Sequence& s = run.item->sequence;
    m_row->show(run);
    const int at = m_row->current();
    m_more->setEnabled(at >= 0);
    m_less->setEnabled(at >= 0 && size_t(at) < s.steps.size() && s.steps[size_t(at)].repeat > 1);
    m_remove->setEnabled(at >= 0 && s.steps.size() > 1);
    showText("sequence", QString::fromStdString(sequenceText(s.steps, m_store.document())));
    m_texts.at("sequence").edit->setPlaceholderText(run.part ? QString(run.part->item->name.c_str()) : QString());
    showRow("byWeight", s.steps.size() > 1);
    showRow("sequenceSeed", s.byWeight && s.steps.size() > 1);
    showRow("everyPart", s.every > 0);
    showValues(valuesOf(s));
    showProblem(run.problem);
}

QString SequenceSection::summary(const RunResult& run) const {
    const Sequence& s = run.item->sequence;
    if (!s.steps.empty()) return QString::fromStdString(sequenceText(s.steps, m_store.document()));
    const bool special = s.first || s.last || s.corner || (s.nth && s.every > 0);
    return special ? tr("one part, others at special places") : tr("one part");
}

ChangesSection::ChangesSection(Store& store, QWidget* parent) : RunSection(store, parent) {
    for (const auto& v : valuesOf(Changes{})) addRow(v, putInto<&RunItem::changes>);
    for (const auto& v : valuesOf(Unevenness{})) addRow(v, putInto<&RunItem::uneven>);
    auto* again = new QPushButton(tr("Another seed"));
    again->setObjectName("run.reroll");
    again->setToolTip(tr("Other random differences within the same bounds"));
    m_rows["reroll"] = again;
    m_box->addWidget(again);
    connect(again, &QPushButton::clicked, this, [this] {
        change(tr("Another seed"), {}, [](RunItem& r) { r.uneven.seed = r.uneven.seed % 1'000'000 + 1; });
    });
}

void ChangesSection::refresh(const RunResult& run) {
    showValues(valuesOf(run.item->changes));
    showValues(valuesOf(run.item->uneven));
    showRow("seed", !run.item->uneven.none());
    showRow("reroll", !run.item->uneven.none());
    showProblem(run.problem);
}

QString ChangesSection::summary(const RunResult& run) const {
    QStringList out;
    const Changes& c = run.item->changes;
    const std::pair<const Profile*, QString> all[] = {
        {&c.roll, tr("roll")}, {&c.size, tr("size")}, {&c.across, tr("across")}, {&c.up, tr("up")}};
    for (const auto& [p, name] : all)
        if (!p->empty()) out += name;
    if (!run.item->uneven.none()) out += tr("uneven");
    return out.isEmpty() ? tr("nothing changes") : out.join(" \u00b7 ");
}

RowsSection::RowsSection(Store& store, QWidget* parent) : RunSection(store, parent) {
    for (const auto& v : valuesOf(Rows{})) addRow(v, putInto<&RunItem::rows>);
    for (const auto& v : valuesOf(Echoes{})) addRow(v, putInto<&RunItem::echoes>);
}

void RowsSection::refresh(const RunResult& run) {
    const Rows& r = run.item->rows;
    showRow("rowsApart", r.rows > 1);
    showRow("rowsKeep", r.rows > 1);
    showRow("tierHeight", r.tiers > 1);
    showRow("staggered", !r.none());
    const auto echo = [&](const Echo& e, const std::string& name, bool offered) {
        const bool any = offered && e.kind != EchoKind::None;
        showRow(name, offered);
        showRow(name + "At", any && e.kind != EchoKind::InLine);
        showRow(name + "Along", any);
        showRow(name + "Count", any && e.kind != EchoKind::Mirrored);
        showRow(name + "By", any && e.kind == EchoKind::InLine);
        showRow(name + "Angle", any && e.kind == EchoKind::Round);
        showRow(name + "Part", any && e.kind == EchoKind::Mirrored);
    };
    echo(run.item->echoes.one, "echo", true);
    echo(run.item->echoes.two, "again", run.item->echoes.one.kind != EchoKind::None);
    showValues(valuesOf(r));
    showValues(valuesOf(run.item->echoes));
    showProblem(run.problem);
}

QString RowsSection::summary(const RunResult& run) const {
    QStringList out;
    const Rows& r = run.item->rows;
    if (r.rows > 1) out += tr("%1 rows").arg(r.rows);
    if (r.tiers > 1) out += tr("%1 tiers").arg(r.tiers);
    for (const Echo* e : {&run.item->echoes.one, &run.item->echoes.two})
        if (e->kind != EchoKind::None) out += value_rows::word(kEchoWords[int(e->kind)].phrase);
    return out.isEmpty() ? tr("once") : out.join(" \u00b7 ");
}

MotionSection::MotionSection(Store& store, QWidget* parent) : RunSection(store, parent) {
    for (const auto& v : valuesOf(Motion{})) addRow(v, putInto<&RunItem::motion>);
    buildSweep();
}

void MotionSection::buildSweep() {
    m_sweep = new QWidget;
    auto* box = new QVBoxLayout(m_sweep);
    box->setContentsMargins(0, 2, 0, 0);
    box->setSpacing(6);
    auto* line = new QHBoxLayout;
    line->setSpacing(6);
    const auto button = [&](const QString& text, const char* name, const QString& tip) {
        return addButton(line, text, name, tip);
    };
    m_pitch =
        button(tr("Sweep a pitch"), "motion.sweepPitch",
               tr("Go through one pitch in 100 steps and find the worst: how a chain closes, how far joints turn"));
    m_path =
        button(tr("whole path"), "motion.sweepPath", tr("Go through the whole path in 400 steps and find the worst"));
    m_show = button(tr("Show it"), "motion.showWorst", tr("Set the clock to where the worst was found"));
    line->addStretch();
    box->addLayout(line);
    m_graph = new SweepGraph("motion.graph");
    box->addWidget(m_graph);
    m_says = new QLabel;
    m_says->setObjectName("motion.worst");
    m_says->setWordWrap(true);
    box->addWidget(m_says);
    m_box->addWidget(m_sweep);
    connect(m_pitch, &QPushButton::clicked, this, [this] { sweepOver(false); });
    connect(m_path, &QPushButton::clicked, this, [this] { sweepOver(true); });
    connect(m_show, &QPushButton::clicked, this, [this] {
        const auto run = m_store.currentRun();
        const SweepStep* worst = m_graph->worst();
        if (!run || !worst) return;
        if (const auto t = timeOf(*run, worst->way)) emit timeWanted(*t);
    });
}

void MotionSection::sweepOver(bool path) {
    const auto run = m_store.currentRun();
    if (!run || !run->placed || run->problem) return;
    const auto all = inBackground<std::vector<SweepStep>>(
        this, tr("Sweeping\u2026"), [run, path](Job& job) -> std::vector<SweepStep> {
            if (!path) return sweep(*run, 101, 0, &job);
            const WayRange range = wayRange(*run); // a search of its own on an open path
            const double way = range.lap > 0 ? range.lap : range.forward;
            return way > tolerance::length ? sweep(*run, 401, way, &job) : std::vector<SweepStep>();
        });
    if (!all || m_store.currentRun() != run) return;
    m_swept = run;
    if (all->empty()) {
        m_graph->clear();
        m_says->setText(tr("There is no room on the path for it to move."));
        return m_says->show();
    }
    m_graph->show(*all, m_store.document().unit);
    showSweep();
}

void MotionSection::showSweep() {
    const auto run = m_store.currentRun();
    if (m_swept.lock() != run) m_graph->clear();
    const SweepStep* worst = m_graph->worst();
    const auto time = worst && run ? timeOf(*run, worst->way) : std::nullopt;
    m_says->setText(m_graph->says() + (time ? tr(" That is at %1 s.").arg(*time, 0, 'f', 2) : QString()));
    m_says->setVisible(worst);
    m_show->setVisible(time.has_value());
}

void MotionSection::refresh(const RunResult& run) {
    const Motion& m = run.item->motion;
    for (const auto& v : valuesOf(m)) showRow(v.key, counts(m, v.key));
    showValues(valuesOf(m));
    field("speed")->setSuffix(tr("a second"));
    showProblem(run.problem);
    // What a sweep looks at: chains and vehicles, where there is room to move.
    m_sweep->setVisible(isLinked(run.item->spacing) && run.placed && !run.problem);
    showSweep();
}

QString MotionSection::summary(const RunResult& run) const {
    const Motion& m = run.item->motion;
    if (!m.moves) return tr("stands");
    return m.by == MotionBy::Speed ? tr("%1 a second").arg(lengthText(m.speed, m_store.document().unit))
                                   : tr("%1 places a second").arg(m.places);
}

} // namespace vicinal
