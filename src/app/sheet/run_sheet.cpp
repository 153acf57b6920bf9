#include "app/sheet/run_sheet.h"
#include "app/controls/controls.h"
#include "app/controls/format.h"
#include "app/controls/item_choice.h"
#include "app/sheet/body_editor.h"
#include "app/sheet/heap_editor.h"
#include "app/sheet/part/part_editor.h"
#include "app/sheet/path/path_editor.h"
#include "app/sheet/run/along/changes_section.h"
#include "app/sheet/run/along/rows_section.h"
#include "app/sheet/run/along/sequence_section.h"
#include "app/sheet/run/checks/checks_section.h"
#include "app/sheet/run/facing_section.h"
#include "app/sheet/run/ground_section.h"
#include "app/sheet/run/motion/motion_section.h"
#include "app/sheet/run/places_section.h"
#include "app/sheet/run/sentence.h"
#include "app/sheet/run/spacing/bays_section.h"
#include "app/sheet/run/spacing/gives_section.h"
#include "app/sheet/run/spacing/spacing_section.h"
#include "app/state/checks.h"
#include "model/document/body_item.h"
#include "model/document/heap.h"
#include "model/document/part_item.h"
#include "model/document/path_item.h"
#include "model/document/run_item.h"
#include <QComboBox>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QTimer>
#include <QVBoxLayout>

namespace vicinal {
RunSheet::RunSheet(Store& store, QWidget* parent) : QScrollArea(parent), m_store(store) {
    setObjectName("sheet");
    setAccessibleName(tr("Run sheet"));
    setWidgetResizable(true);
    setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    auto* page = new QWidget;
    auto* box = new QVBoxLayout(page);
    box->setContentsMargins(0, 8, 0, 12);
    box->setSpacing(0);
    buildHead(box);

    buildItemSections();
    buildRunSections();
    box->addWidget(m_heapSection);
    box->addWidget(m_bodySection);
    box->addWidget(m_pathSection);
    box->addWidget(m_partSection);
    for (const auto& s : m_runSections) box->addWidget(s.section);
    box->addStretch();
    setWidget(page);

    connect(m_sentence, &QLabel::linkActivated, this, &RunSheet::goTo);
    connect(m_emptyButton, &QPushButton::clicked, this, &RunSheet::newRunWanted);
    connect(m_title, &QLineEdit::editingFinished, this, &RunSheet::rename);
    connect(m_pathChoice, &QComboBox::activated, this, [this](int i) {
        const Id id = m_pathChoice->itemData(i).toInt();
        change(tr("Follow %1").arg(m_pathChoice->itemText(i)), {}, [&](RunItem& r) { r.path = id; });
    });
    connect(m_partChoice, &QComboBox::activated, this, [this](int i) {
        const Id id = m_partChoice->itemData(i).toInt();
        change(tr("Repeat %1").arg(m_partChoice->itemText(i)), {}, [&](RunItem& r) { r.part = id; });
    });
    connect(&store, &Store::documentChanged, this, &RunSheet::refresh);
    connect(&store, &Store::selectionChanged, this, &RunSheet::refresh);
    refresh();
}

void RunSheet::buildRunSections() {
    const auto section = [&](const QString& name, const QString& title, RunSection* content) {
        auto* s = new Section(name, title);
        s->body()->addWidget(content);
        m_runSections.push_back({s, content});
        connect(s, &Section::opened, this, [this, at = m_runSections.size() - 1] { fill(m_runSections[at]); });
        return s;
    };
    section("spacing", tr("Spacing"), new SpacingSection(m_store))->setOpen(true);
    section("gives", tr("What gives"), new GivesSection(m_store));
    section("bays", tr("Stretch and bays"), new BaysSection(m_store));
    auto* facing = new FacingSection(m_store);
    section("facing", tr("Facing"), facing);
    connect(facing, &FacingSection::directionWanted, this, &RunSheet::directionWanted);
    section("ground", tr("On the ground"), new GroundSection(m_store));
    section("sequence", tr("Parts and sequence"), new SequenceSection(m_store));
    section("changes", tr("Along the run"), new ChangesSection(m_store));
    section("rows", tr("Rows and echoes"), new RowsSection(m_store));
    auto* motion = new MotionSection(m_store);
    section("motion", tr("Motion"), motion);
    connect(motion, &MotionSection::timeWanted, this, &RunSheet::timeWanted);
    section("places", tr("Places"), new PlacesSection(m_store));
    auto* checks = new ChecksSection(m_store);
    section("checks", tr("Checks"), checks);
    connect(&m_store.checks(), &Checks::changed, this, [this, checks] {
        const auto run = m_store.currentRun();
        if (run) m_runSections.back().section->setSummary(checks->summary(*run));
    });
}

/// Of what is in hand, whatever it is.
void RunSheet::buildItemSections() {
    m_pathSection = new Section("path", tr("Path"));
    m_pathChoice = new QComboBox;
    m_pathChoice->setObjectName("run.path");
    m_pathChoice->setToolTip(tr("The path this run follows"));
    m_pathRow = labelled(tr("Follows"), m_pathChoice);
    m_path = new PathEditor(m_store, "sheet.path");
    m_pathSection->body()->addWidget(m_pathRow);
    m_pathSection->body()->addWidget(m_path);
    m_partSection = new Section("part", tr("Part"));
    m_partChoice = new QComboBox;
    m_partChoice->setObjectName("run.part");
    m_partChoice->setToolTip(tr("The part this run repeats"));
    m_partRow = labelled(tr("Repeats"), m_partChoice);
    m_part = new PartEditor(m_store, "sheet.part");
    m_partSection->body()->addWidget(m_partRow);
    m_partSection->body()->addWidget(m_part);
    m_heapSection = new Section("heap", tr("Loose parts"));
    m_heap = new HeapEditor(m_store);
    m_heapSection->body()->addWidget(m_heap);
    m_heapSection->setOpen(true);
    m_bodySection = new Section("body", tr("Site body"));
    m_body = new BodyEditor(m_store);
    m_bodySection->body()->addWidget(m_body);
    m_bodySection->setOpen(true);
    connect(m_body, &BodyEditor::edgeWanted, this, &RunSheet::edgeWanted);
    connect(m_body, &BodyEditor::layWanted, this, &RunSheet::layWanted);
    connect(m_body, &BodyEditor::cutWanted, this, &RunSheet::cutWanted);
}

void RunSheet::rename() {
    const std::string name = m_title->text().trimmed().toStdString();
    const Selection& s = m_store.selection();
    if (!m_title->isModified()) return;
    m_title->setModified(false);
    if (name.empty()) return refresh();
    const QString step = tr("Rename to %1").arg(name.c_str());
    if (s.kind == Selection::Kind::Run) m_store.change<RunItem>(s.id, step, {}, [&](RunItem& r) { r.name = name; });
    if (s.kind == Selection::Kind::Heap) m_store.change<HeapItem>(s.id, step, {}, [&](HeapItem& h) { h.name = name; });
    if (s.kind == Selection::Kind::Body) m_store.change<BodyItem>(s.id, step, {}, [&](BodyItem& b) { b.name = name; });
    if (s.kind == Selection::Kind::Path) m_store.change<PathItem>(s.id, step, {}, [&](PathItem& p) { p.name = name; });
    if (s.kind == Selection::Kind::Part) m_store.change<PartItem>(s.id, step, {}, [&](PartItem& p) { p.name = name; });
}

void RunSheet::buildHead(QVBoxLayout* box) {
    m_title = new QLineEdit;
    m_title->setObjectName("sheet.title");
    m_title->setAccessibleName(tr("Name"));
    m_title->setToolTip(tr("The name; click to change it"));
    m_title->setStyleSheet("QLineEdit { font-weight: 700; font-size: 15px; border: none; background: transparent; "
                           "padding: 2px 4px 2px 12px; } QLineEdit:focus { background: white; }");
    box->addWidget(m_title);
    m_sentence = new QLabel;
    m_sentence->setObjectName("sheet.sentence");
    m_sentence->setWordWrap(true);
    m_sentence->setTextInteractionFlags(Qt::LinksAccessibleByMouse | Qt::LinksAccessibleByKeyboard);
    m_sentence->setContentsMargins(12, 2, 12, 10);
    box->addWidget(m_sentence);
    m_empty = new QLabel;
    m_empty->setProperty("role", "muted");
    m_empty->setWordWrap(true);
    m_empty->setContentsMargins(12, 8, 12, 8);
    box->addWidget(m_empty);
    m_emptyButton = new QPushButton(tr("Make a run"));
    m_emptyButton->setObjectName("sheet.newRun");
    m_emptyButton->setToolTip(tr("Set a part along a path (Ctrl+R)"));
    auto* holder = new QHBoxLayout;
    holder->setContentsMargins(12, 0, 12, 10);
    holder->addWidget(m_emptyButton);
    holder->addStretch();
    box->addLayout(holder);
}

void RunSheet::change(const QString& name, const QString& merge, const std::function<void(RunItem&)>& how) {
    if (const auto run = m_store.currentRun()) m_store.change<RunItem>(run->item->id, name, merge, how);
}

void RunSheet::refresh() {
    const Selection& s = m_store.selection();
    const auto run = m_store.currentRun();
    const auto path = m_store.currentPath();
    const auto partIt = m_store.evaluation().parts.find(s.kind == Selection::Kind::Part ? s.id
                                                        : run                           ? run->item->part
                                                                                        : 0);
    const auto part = partIt == m_store.evaluation().parts.end() ? nullptr : partIt->second;
    const bool single = s.kind == Selection::Kind::Path || s.kind == Selection::Kind::Part;
    const auto heap = heapInHand(m_store);
    const auto body = m_store.currentBody();
    const QString name = body                                                ? body->item->name.c_str()
                         : heap                                              ? heap->item->name.c_str()
                         : run                                               ? run->item->name.c_str()
                         : single && s.kind == Selection::Kind::Path && path ? path->item->name.c_str()
                         : single && part                                    ? part->item->name.c_str()
                                                                             : "";
    if (!m_title->hasFocus() || !m_title->isModified()) m_title->setText(name);
    m_title->setVisible(!name.isEmpty());
    m_sentence->setVisible(run != nullptr);
    m_heapSection->setVisible(heap != nullptr);
    m_heap->show(heap);
    m_bodySection->setVisible(body != nullptr);
    m_body->show(body);
    m_empty->setVisible(!run && !heap);
    m_emptyButton->setVisible(!run && !heap && !body && !m_store.document().paths.empty());
    m_pathSection->setVisible(run || s.kind == Selection::Kind::Path);
    m_partSection->setVisible(run || s.kind == Selection::Kind::Part);
    for (const auto& s2 : m_runSections) s2.section->setVisible(run != nullptr);
    if (s.kind != m_kind) { // a path or part on its own is shown unfolded
        m_pathSection->setOpen(s.kind == Selection::Kind::Path);
        m_partSection->setOpen(s.kind == Selection::Kind::Part);
        m_kind = s.kind;
    }
    m_pathRow->setVisible(run != nullptr);
    m_partRow->setVisible(run != nullptr);
    m_path->refresh();
    m_part->show(part);
    if (!run) {
        const auto users = usersOf(m_store.document(), s.id);
        QStringList names;
        for (const auto& n : users) names += n.c_str();
        m_empty->setText(
            s.kind == Selection::Kind::None
                ? (m_store.document().paths.empty()
                       ? tr("Nothing here yet: draw a path or bring one in.")
                       : tr("Nothing is selected. Choose a run, a path or a part on the left, or make a run."))
            : names.isEmpty() && body ? tr("Nothing follows or stands on it yet.")
            : names.isEmpty()         ? tr("No run uses it yet.")
                                      : tr("Used by %1.").arg(names.join(", ")));
        return;
    }
    const Unit unit = m_store.document().unit;
    m_sentence->setText(sentenceWithLinks(*run, unit));
    fillItems(m_pathChoice, m_store.document().paths, run->item->path, tr("(deleted)"));
    fillItems(m_partChoice, m_store.document().parts, run->item->part, tr("(deleted)"));
    QString pathLine = path ? QString(path->item->name.c_str()) : tr("missing");
    if (path && path->path)
        pathLine += " \u00b7 " + longLengthText(path->path->length(), unit) + " \u00b7 " +
                    (path->path->closed() ? tr("closed") : tr("open"));
    m_pathSection->setSummary(pathLine);
    QString partLine = part ? QString(part->item->name.c_str()) : tr("missing");
    if (part) {
        if (const auto* b = std::get_if<BoxPoint>(&part->item->seat.point)) {
            const QString z[] = {tr("foot"), tr("middle"), tr("top")};
            partLine += " \u00b7 " + (b->x == 0 && b->y == 0 ? tr("seated at %1 centre").arg(z[b->z + 1])
                                                             : tr("seated at a box point"));
        } else
            partLine += " \u00b7 " + (std::get<Vec3>(part->item->seat.point).isZero() ? tr("seated at its own origin")
                                                                                      : tr("seated at a typed point"));
    }
    m_partSection->setSummary(partLine);
    for (Sheet& sheet : m_runSections) {
        sheet.shown.reset(); // fields that were typed into without being taken go back
        if (sheet.section->isOpen()) fill(sheet);
        sheet.section->setSummary(sheet.content->summary(*run));
    }
}

void RunSheet::fill(Sheet& s) {
    const auto run = m_store.currentRun();
    if (!run || s.shown == run) return;
    s.shown = run;
    s.content->refresh(*run);
}

void RunSheet::goTo(const QString& name) {
    Section* section = nullptr;
    QWidget* target = nullptr;
    if (name == "path") section = m_pathSection, target = m_pathChoice;
    if (name == "part") section = m_partSection, target = m_partChoice;
    for (Sheet& s : m_runSections) fill(s); // their fields may not be there yet
    for (const auto& s : m_runSections)
        if (QWidget* w = s.content->target(name); w && !target) section = s.section, target = w;
    if (!target) return;
    section->setOpen(true);
    // Unfolding changes the layout; scroll when it has settled.
    QTimer::singleShot(0, this, [this, target] {
        ensureWidgetVisible(target, 0, 60);
        target->setFocus(Qt::OtherFocusReason);
        if (auto* edit = qobject_cast<QLineEdit*>(target)) edit->selectAll();
    });
}

} // namespace vicinal
