#include "app/sheet/run/along/sequence_section.h"
#include "app/controls/controls.h"
#include "app/sheet/run/along/sequence_row.h"
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
        return addSmallButton(line, text, name, tip);
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

} // namespace vicinal
