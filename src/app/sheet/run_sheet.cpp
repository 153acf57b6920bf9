#include "app/sheet/run_sheet.h"
#include "app/controls/controls.h"
#include "app/controls/format.h"
#include "app/controls/theme.h"
#include "app/controls/value_field.h"
#include "app/sheet/part_editor.h"
#include "app/sheet/path_editor.h"
#include "app/sheet/sentence.h"
#include <QComboBox>
#include <QFutureWatcher>
#include <QHeaderView>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QTableWidget>
#include <QTimer>
#include <QVBoxLayout>
#include <QtConcurrentRun>

namespace vicinal {
namespace {

const QString kSpacingFields[] = {"pitch",     "count",      "about",    "gapAtLeast",
                                  "gapAtMost", "insetStart", "insetEnd", "slide"};

} // namespace

RunSheet::RunSheet(Store& store, QWidget* parent) : QScrollArea(parent), m_store(store) {
    setObjectName("sheet");
    setAccessibleName(tr("Run sheet"));
    setWidgetResizable(true);
    setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    auto* page = new QWidget;
    auto* box = new QVBoxLayout(page);
    box->setContentsMargins(0, 8, 0, 12);
    box->setSpacing(0);
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

    m_pathSection = new Section("path", tr("Path"));
    m_pathChoice = new QComboBox;
    m_pathChoice->setObjectName("run.path");
    m_pathChoice->setToolTip(tr("The path this run follows"));
    m_pathRow = labelled(tr("Follows"), m_pathChoice);
    m_path = new PathEditor(store, "sheet.path");
    m_pathSection->body()->addWidget(m_pathRow);
    m_pathSection->body()->addWidget(m_path);
    m_partSection = new Section("part", tr("Part"));
    m_partChoice = new QComboBox;
    m_partChoice->setObjectName("run.part");
    m_partChoice->setToolTip(tr("The part this run repeats"));
    m_partRow = labelled(tr("Repeats"), m_partChoice);
    m_part = new PartEditor(store, "sheet.part");
    m_partSection->body()->addWidget(m_partRow);
    m_partSection->body()->addWidget(m_part);
    m_spacingSection = new Section("spacing", tr("Spacing"));
    m_spacingSection->body()->addWidget(buildSpacing());
    m_spacingSection->setOpen(true);
    m_facingSection = new Section("facing", tr("Facing"));
    m_facingSection->body()->addWidget(buildFacing());
    m_placesSection = new Section("places", tr("Places"));
    m_placesSection->body()->addWidget(buildPlaces());
    for (auto* s : {m_pathSection, m_partSection, m_spacingSection, m_facingSection, m_placesSection})
        box->addWidget(s);
    box->addStretch();
    setWidget(page);

    m_fitsTimer = new QTimer(this);
    m_fitsTimer->setSingleShot(true);
    m_fitsTimer->setInterval(0);
    connect(m_fitsTimer, &QTimer::timeout, this, &RunSheet::refreshFits);
    connect(m_sentence, &QLabel::linkActivated, this, &RunSheet::goTo);
    connect(m_emptyButton, &QPushButton::clicked, this, &RunSheet::newRunWanted);
    connect(m_title, &QLineEdit::editingFinished, this, [this] {
        const std::string name = m_title->text().trimmed().toStdString();
        const Selection& s = m_store.selection();
        if (!m_title->isModified()) return;
        m_title->setModified(false);
        if (name.empty()) return refresh();
        const QString step = tr("Rename to %1").arg(name.c_str());
        if (s.kind == Selection::Kind::Run) m_store.changeRun(s.id, step, {}, [&](RunItem& r) { r.name = name; });
        if (s.kind == Selection::Kind::Path) m_store.changePath(s.id, step, {}, [&](PathItem& p) { p.name = name; });
        if (s.kind == Selection::Kind::Part) m_store.changePart(s.id, step, {}, [&](PartItem& p) { p.name = name; });
    });
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

ValueField* RunSheet::addField(const QString& name, int kind, const QString& label, const QString& tip,
                               std::function<void(RunItem&, std::optional<double>)> set) {
    auto* f = new ValueField(ValueField::Kind(kind), name, label, tip);
    m_fields[name] = f;
    connect(f, &ValueField::changed, this, [=, this](std::optional<double> v, bool live) {
        change(label, live ? "field " + name : QString(), [&](RunItem& r) { set(r, v); });
    });
    connect(f, &ValueField::finished, &m_store, &Store::seal);
    return f;
}

void RunSheet::change(const QString& name, const QString& merge, const std::function<void(RunItem&)>& how) {
    if (const auto run = m_store.currentRun()) m_store.changeRun(run->item->id, name, merge, how);
}

QWidget* RunSheet::buildSpacing() {
    using Kind = ValueField::Kind;
    auto* page = new QWidget;
    auto* box = new QVBoxLayout(page);
    box->setContentsMargins(0, 0, 0, 0);
    box->setSpacing(7);
    m_rule = new Segmented("run.rule", {tr("Step off"), tr("Share out"), tr("Even out")},
                           {tr("A fixed pitch, as many places as go in"), tr("A count, shared equally over the path"),
                            tr("About a pitch, made even so that nothing is left over, within the gap limits")});
    box->addWidget(m_rule);
    connect(m_rule, &Segmented::picked, this, [this](int k) {
        const QString names[] = {tr("Step off"), tr("Share out"), tr("Even out")};
        const auto run = m_store.currentRun();
        const auto places = run ? run->placed : nullptr;
        change(names[k], {}, [&](RunItem& r) {
            // Going over from one rule to another starts from what is there now, so that nothing jumps.
            if (places && !run->stale() && SpacingRule(k) != r.spacing.rule && places->count() > 1) {
                const double value = r.spacing.measure == Measure::ClearGap
                                         ? places->laid->pitch - places->occupied(0).total()
                                         : places->laid->pitch;
                if (SpacingRule(k) == SpacingRule::ShareOut) r.spacing.count = long(places->count());
                if (SpacingRule(k) == SpacingRule::StepOff) r.spacing.pitch = std::floor(value * 1000) / 1000;
                if (SpacingRule(k) == SpacingRule::EvenOut && r.spacing.rule == SpacingRule::StepOff)
                    r.spacing.about = r.spacing.pitch;
            }
            r.spacing.rule = SpacingRule(k);
        });
    });
    auto* pitch = addField("pitch", int(Kind::Length), tr("Pitch"), tr("Distance from one place to the next"),
                           [](RunItem& r, auto v) { r.spacing.pitch = *v; });
    box->addWidget(m_pitchRow = labelled(tr("Pitch"), pitch));
    m_leftOver = new Segmented("run.leftOver", {tr("end"), tr("start"), tr("both")},
                               {tr("What is left over stays at the end"), tr("What is left over goes to the start"),
                                tr("What is left over is shared by both ends")});
    box->addWidget(m_leftOverRow = labelled(tr("Left over to"), m_leftOver));
    connect(m_leftOver, &Segmented::picked, this,
            [this](int k) { change(tr("Left over"), {}, [&](RunItem& r) { r.spacing.leftOver = LeftOver(k); }); });
    auto* count = addField("count", int(Kind::Count), tr("Places"), tr("How many places"),
                           [](RunItem& r, auto v) { r.spacing.count = long(*v); });
    box->addWidget(m_countRow = labelled(tr("Places"), count));
    m_ends =
        new Segmented("run.ends", {tr("at ends"), tr("\u00bd pitch in"), tr("pitch in")},
                      {tr("The first and last place stand at the insets"), tr("Half a pitch is kept free at both ends"),
                       tr("A whole pitch is kept free at both ends")});
    box->addWidget(m_endsRow = labelled(tr("First and last"), m_ends));
    connect(m_ends, &Segmented::picked, this, [this](int k) {
        change(tr("First and last place"), {}, [&](RunItem& r) { r.spacing.ends = ShareEnds(k); });
    });
    auto* about = addField("about", int(Kind::Length), tr("About"),
                           tr("The pitch wanted; the nearest one that comes out even is taken"),
                           [](RunItem& r, auto v) { r.spacing.about = *v; });
    box->addWidget(m_aboutRow = labelled(tr("About"), about));
    m_measure =
        new Segmented("run.measure", {tr("c/c"), tr("clear gap")},
                      {tr("Centre to centre: from seat point to seat point along the path"),
                       tr("Clear gap: the free length along the path from one part's front to the next one's back, for "
                          "parts as their boxes. Distances between true bodies are not measured here.")});
    box->addWidget(m_measureRow = labelled(tr("Measured by"), m_measure));
    connect(m_measure, &Segmented::picked, this,
            [this](int k) { change(tr("Measured by"), {}, [&](RunItem& r) { r.spacing.measure = Measure(k); }); });
    const QString gapTip = tr("Limit of the clear gap along the path; empty for none. Even out keeps it, the other "
                              "rules are checked against it.");
    auto* least = addField("gapAtLeast", int(Kind::OptionalLength), tr("Clear gap at least"), gapTip,
                           [](RunItem& r, auto v) { r.spacing.gapAtLeast = v; });
    auto* most = addField("gapAtMost", int(Kind::OptionalLength), tr("Clear gap at most"), gapTip,
                          [](RunItem& r, auto v) { r.spacing.gapAtMost = v; });
    least->setPlaceholder(tr("none"));
    most->setPlaceholder(tr("none"));
    box->addWidget(labelled(tr("Gap from / to"), least, most));
    auto* start = addField("insetStart", int(Kind::Length), tr("In at start"),
                           tr("Length kept empty at the path's start, up to the first seat point"),
                           [](RunItem& r, auto v) { r.spacing.insetStart = *v; });
    auto* end = addField("insetEnd", int(Kind::Length), tr("In at end"),
                         tr("Length kept empty at the path's end, from the last seat point"),
                         [](RunItem& r, auto v) { r.spacing.insetEnd = *v; });
    box->addWidget(m_insetRow = labelled(tr("In at start / end"), start, end));
    auto* slide = addField("slide", int(Kind::Length), tr("Slide"), tr("Station of the first place on a closed path"),
                           [](RunItem& r, auto v) { r.spacing.slide = *v; });
    box->addWidget(m_slideRow = labelled(tr("First place at"), slide));
    m_spacingError = new QLabel;
    m_spacingError->setObjectName("error.spacing");
    m_spacingError->setProperty("role", "error");
    m_spacingError->setWordWrap(true);
    box->addWidget(m_spacingError);
    m_fits = new QTableWidget(0, 4);
    m_fits->setObjectName("fits");
    m_fits->setAccessibleName(tr("Fits: counts that work"));
    m_fits->setToolTip(tr("Counts around the best one, each worked out. Click one to take it."));
    m_fits->setHorizontalHeaderLabels({tr("places"), tr("c/c"), tr("clear"), tr("left over")});
    m_fits->horizontalHeader()->setSectionResizeMode(QHeaderView::Stretch);
    m_fits->verticalHeader()->hide();
    m_fits->verticalHeader()->setDefaultSectionSize(22);
    m_fits->setEditTriggers(QAbstractItemView::NoEditTriggers);
    m_fits->setSelectionMode(QAbstractItemView::NoSelection);
    m_fits->setFocusPolicy(Qt::StrongFocus);
    m_fits->setShowGrid(false);
    m_fits->setVerticalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    m_fits->setFont(theme::font(12));
    box->addWidget(m_fits);
    connect(m_fits, &QTableWidget::cellClicked, this, &RunSheet::takeFit);
    connect(m_fits, &QTableWidget::cellActivated, this, &RunSheet::takeFit);
    return page;
}

QWidget* RunSheet::buildFacing() {
    using Kind = ValueField::Kind;
    auto* page = new QWidget;
    auto* box = new QVBoxLayout(page);
    box->setContentsMargins(0, 0, 0, 0);
    box->setSpacing(7);
    m_nose = new Segmented("run.nose", {tr("along"), tr("as drawn")},
                           {tr("The nose faces along the path"), tr("The part keeps the direction it was drawn in")});
    box->addWidget(labelled(tr("Nose"), m_nose));
    m_crown = new Segmented("run.crown", {tr("plumb"), tr("upright"), tr("carried")},
                            {tr("The crown stays vertical, whatever the slope"),
                             tr("Square to the path, as near vertical as it goes"),
                             tr("Least twist from the start; closes on closed paths")});
    box->addWidget(m_crownRow = labelled(tr("Crown"), m_crown));
    m_corner = new Segmented("run.corner", {tr("between"), tr("leg before"), tr("leg after")},
                             {tr("A part exactly on a corner faces between the two legs"),
                              tr("A part exactly on a corner faces along the leg before it"),
                              tr("A part exactly on a corner faces along the leg after it")});
    box->addWidget(m_cornerRow = labelled(tr("On a corner"), m_corner));
    connect(m_nose, &Segmented::picked, this,
            [this](int k) { change(tr("Nose"), {}, [&](RunItem& r) { r.facing.nose = NoseRule(k); }); });
    connect(m_crown, &Segmented::picked, this,
            [this](int k) { change(tr("Crown"), {}, [&](RunItem& r) { r.facing.crown = CrownRule(k); }); });
    connect(m_corner, &Segmented::picked, this,
            [this](int k) { change(tr("On a corner"), {}, [&](RunItem& r) { r.facing.corner = CornerRule(k); }); });
    const QString names[] = {tr("Turn about nose"), tr("Turn about side"), tr("Turn about crown")};
    for (int i = 0; i < 3; ++i)
        box->addWidget(labelled(
            names[i],
            addField(QString("turn%1").arg(i), int(Kind::Angle), names[i],
                     tr("Extra turn of every part, right-handed; first about the nose, then the side, then the crown"),
                     [i](RunItem& r, auto v) { r.facing.turn[i] = *v; })));
    return page;
}

QWidget* RunSheet::buildPlaces() {
    auto* page = new QWidget;
    auto* box = new QVBoxLayout(page);
    box->setContentsMargins(0, 0, 0, 0);
    box->setSpacing(7);
    m_placeFacts = new QLabel;
    m_placeFacts->setObjectName("places.facts");
    m_placeFacts->setWordWrap(true);
    box->addWidget(m_placeFacts);
    m_toggle = new QPushButton;
    m_toggle->setObjectName("places.toggle");
    m_toggle->setToolTip(tr("Leave out the selected places, or bring them back (Delete)"));
    box->addWidget(m_toggle);
    m_leftOut = new QLabel;
    m_leftOut->setObjectName("places.leftOut");
    m_leftOut->setProperty("role", "muted");
    m_leftOut->setWordWrap(true);
    box->addWidget(m_leftOut);
    m_bringBack = new QPushButton(tr("Bring all back"));
    m_bringBack->setObjectName("places.bringAllBack");
    m_bringBack->setToolTip(tr("Bring back every place that was left out"));
    box->addWidget(m_bringBack);
    m_forget = new QPushButton(tr("Forget those that no longer exist"));
    m_forget->setObjectName("places.forget");
    box->addWidget(m_forget);
    connect(m_toggle, &QPushButton::clicked, &m_store, &Store::toggleLeftOut);
    connect(m_bringBack, &QPushButton::clicked, this,
            [this] { change(tr("Bring all back"), {}, [](RunItem& r) { r.leftOut.clear(); }); });
    connect(m_forget, &QPushButton::clicked, this, [this] {
        const auto run = m_store.currentRun();
        if (!run || !run->placed) return;
        const auto stale = run->placed->staleLeftOut;
        change(tr("Forget left-out places"), {}, [&](RunItem& r) {
            for (int n : stale) std::erase(r.leftOut, n);
        });
    });
    return page;
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
    const QString name = run                                                 ? run->item->name.c_str()
                         : single && s.kind == Selection::Kind::Path && path ? path->item->name.c_str()
                         : single && part                                    ? part->item->name.c_str()
                                                                             : "";
    if (!m_title->hasFocus() || !m_title->isModified()) m_title->setText(name);
    m_title->setVisible(!name.isEmpty());
    m_sentence->setVisible(run != nullptr);
    m_empty->setVisible(!run);
    m_emptyButton->setVisible(!run && !m_store.document().paths.empty());
    m_pathSection->setVisible(run || s.kind == Selection::Kind::Path);
    m_partSection->setVisible(run || s.kind == Selection::Kind::Part);
    for (auto* section : {m_spacingSection, m_facingSection, m_placesSection}) section->setVisible(run != nullptr);
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
            : names.isEmpty() ? tr("No run uses it yet.")
                              : tr("Used by %1.").arg(names.join(", ")));
        return;
    }
    const Unit unit = m_store.document().unit;
    m_sentence->setText(sentenceOf(*run, unit));
    const auto fill = [](QComboBox* box, const auto& items, Id id, const QString& missing) {
        box->clear();
        for (const auto& i : items) box->addItem(i->name.c_str(), i->id);
        const int at = box->findData(id);
        if (at < 0) box->insertItem(0, missing, id);
        box->setCurrentIndex(std::max(0, at));
    };
    fill(m_pathChoice, m_store.document().paths, run->item->path, tr("(deleted)"));
    fill(m_partChoice, m_store.document().parts, run->item->part, tr("(deleted)"));
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
    refreshSpacing(*run);
    refreshFacing(*run);
    refreshPlaces(*run);
}

void RunSheet::refreshSpacing(const RunResult& run) {
    const Spacing& s = run.item->spacing;
    const Unit unit = m_store.document().unit;
    const bool closed = run.path && run.path->path && run.path->path->closed();
    m_rule->setCurrent(int(s.rule));
    m_measure->setCurrent(int(s.measure));
    m_leftOver->setCurrent(int(s.leftOver));
    m_ends->setCurrent(int(s.ends));
    m_pitchRow->setVisible(s.rule == SpacingRule::StepOff);
    m_leftOverRow->setVisible(s.rule == SpacingRule::StepOff && !closed);
    m_countRow->setVisible(s.rule == SpacingRule::ShareOut);
    m_endsRow->setVisible(s.rule == SpacingRule::ShareOut && !closed);
    m_aboutRow->setVisible(s.rule == SpacingRule::EvenOut);
    m_insetRow->setVisible(!closed);
    m_slideRow->setVisible(closed);
    const QString suffix = s.measure == Measure::ClearGap ? tr("clear") : tr("c/c");
    field("pitch")->setSuffix(suffix);
    field("about")->setSuffix(suffix);
    const std::pair<const char*, std::optional<double>> values[] = {
        {"pitch", s.pitch},           {"count", double(s.count)}, {"about", s.about},
        {"gapAtLeast", s.gapAtLeast}, {"gapAtMost", s.gapAtMost}, {"insetStart", s.insetStart},
        {"insetEnd", s.insetEnd},     {"slide", s.slide}};
    for (const auto& [name, v] : values) {
        field(name)->setUnit(unit);
        field(name)->setValue(v);
    }
    // A problem stands at its own field; one that has no visible field stands below them all.
    bool placed = false;
    for (const auto& name : kSpacingFields) {
        const bool mine =
            run.problem && run.problem->field == name.toStdString() && !field(name)->parentWidget()->isHidden();
        field(name)->setProblem(mine ? m_store.say(run.problem->text) : QString());
        placed = placed || mine;
    }
    m_spacingError->setText(run.problem && !placed ? m_store.say(run.problem->text) : QString());
    m_spacingError->setVisible(run.problem && !placed);
    const QString rules[] = {tr("stepped off"), tr("shared out"), tr("evened out")};
    QString line = rules[int(s.rule)];
    if (run.placed && !run.stale())
        line += " \u00b7 " + tr("%1 places").arg(run.placed->count()) + " \u00b7 " +
                tr("c/c %1").arg(lengthText(run.placed->laid->pitch, unit));
    m_spacingSection->setSummary(line);
    m_fitsTimer->start(); // not within a drag's own event: the newest state is solved once
}

void RunSheet::refreshFits() {
    const auto run = m_store.currentRun();
    if (!run || run->item->spacing.rule == SpacingRule::StepOff) {
        m_fitsOf.reset();
        m_fits->hide();
        return;
    }
    if (m_fitsOf == run) return; // being solved, or shown
    m_fitsOf = run;
    using Rows = std::shared_ptr<const Result<std::vector<Fit>>>;
    auto* watcher = new QFutureWatcher<Rows>(this);
    connect(watcher, &QFutureWatcher<Rows>::finished, this, [this, watcher, run] {
        watcher->deleteLater();
        if (m_fitsOf == run) showFits(*watcher->result()); // else another one is wanted by now
    });
    watcher->setFuture(QtConcurrent::run([run]() -> Rows {
        try {
            return std::make_shared<const Result<std::vector<Fit>>>(fitsOf(*run));
        } catch (const std::exception&) { // no memory: no table
            return std::make_shared<const Result<std::vector<Fit>>>(Problem{});
        }
    }));
}

void RunSheet::showFits(const Result<std::vector<Fit>>& rows_) {
    const auto* rows = &rows_;
    m_fits->setVisible(bool(*rows));
    if (!*rows) return;
    const Unit unit = m_store.document().unit;
    m_fits->setRowCount(int((*rows)->size()));
    for (int r = 0; r < int((*rows)->size()); ++r) {
        const Fit& f = (**rows)[size_t(r)];
        const QString mark = f.over ? tr("over") : f.under ? tr("under") : f.inUse ? tr("in use") : QString();
        const QString cells[] = {QString::number(f.count),
                                 f.pitch > 0 ? lengthText(f.pitch, unit, false) : tr("\u2013"),
                                 lengthText(f.over ? f.gapMost : f.gapLeast, unit, false),
                                 mark.isEmpty() ? lengthText(f.leftOver, unit, false) : mark};
        for (int c = 0; c < 4; ++c) {
            auto* item = new QTableWidgetItem(cells[c]);
            item->setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);
            if (f.inUse) item->setBackground(theme::accentTint());
            if (c == 3)
                item->setForeground(f.over || f.under ? theme::brick() : f.inUse ? theme::moss() : theme::muted());
            item->setToolTip(tr("%1 places: c/c %2, clear %3 to %4, left over %5. Click to take it.")
                                 .arg(f.count)
                                 .arg(lengthText(f.pitch, unit), lengthText(f.gapLeast, unit),
                                      lengthText(f.gapMost, unit), lengthText(f.leftOver, unit)));
            m_fits->setItem(r, c, item);
        }
    }
    m_fits->setFixedHeight(22 * int((*rows)->size()) + m_fits->horizontalHeader()->sizeHint().height() + 4);
}

void RunSheet::takeFit(int row) {
    const auto* item = m_fits->item(row, 0);
    const auto run = m_store.currentRun();
    if (!item || !run) return;
    const long count = item->text().toLong();
    change(tr("Take %1 places").arg(count), {}, [&](RunItem& r) {
        r.spacing.rule = SpacingRule::ShareOut;
        r.spacing.ends = run->item->spacing.rule == SpacingRule::EvenOut ? ShareEnds::AtEnds : r.spacing.ends;
        r.spacing.count = count;
    });
}

void RunSheet::refreshFacing(const RunResult& run) {
    const Facing& f = run.item->facing;
    m_nose->setCurrent(int(f.nose));
    m_crown->setCurrent(int(f.crown));
    m_corner->setCurrent(int(f.corner));
    m_crownRow->setVisible(f.nose == NoseRule::Along);
    m_cornerRow->setVisible(f.nose == NoseRule::Along);
    for (int i = 0; i < 3; ++i) field(QString("turn%1").arg(i))->setValue(f.turn[i]);
    const QString crowns[] = {tr("plumb"), tr("upright"), tr("carried")};
    QString line = f.nose == NoseRule::AsDrawn ? tr("as drawn") : crowns[int(f.crown)] + " \u00b7 " + tr("nose along");
    if (!f.turn.isZero(0)) line += " \u00b7 " + tr("turned");
    m_facingSection->setSummary(line);
}

void RunSheet::refreshPlaces(const RunResult& run) {
    if (!run.placed) {
        m_placeFacts->setText(tr("No places yet."));
        for (QWidget* w : {static_cast<QWidget*>(m_toggle), static_cast<QWidget*>(m_leftOut),
                           static_cast<QWidget*>(m_bringBack), static_cast<QWidget*>(m_forget)})
            w->hide();
        m_placesSection->setSummary({});
        return;
    }
    const Unit unit = m_store.document().unit;
    const Places& p = *run.placed;
    const auto& selected = m_store.selection().places;
    const bool stale = run.stale();
    if (selected.empty())
        m_placeFacts->setText(tr("Select places in the strip or the view to leave them out."));
    else if (selected.size() == 1) {
        const int i = *selected.begin();
        const Angles a = anglesOf(p.frame(size_t(i)).axes);
        m_placeFacts->setText(tr("Place %1 at station %2: heading %3\u00b0, slope %4\u00b0, roll %5\u00b0%6")
                                  .arg(i + 1)
                                  .arg(lengthText(p.stations()[size_t(i)], unit))
                                  .arg(a.heading / kDegree, 0, 'f', 2)
                                  .arg(a.slope / kDegree, 0, 'f', 2)
                                  .arg(a.roll / kDegree, 0, 'f', 2)
                                  .arg(p.leftOut(size_t(i)) ? tr(" (left out)") : QString()));
    } else
        m_placeFacts->setText(tr("%n place(s) selected", nullptr, int(selected.size())));
    bool all = !selected.empty();
    for (int i : selected) all = all && p.leftOut(size_t(i));
    m_toggle->setVisible(!selected.empty());
    m_toggle->setEnabled(!stale);
    m_toggle->setText(all ? tr("Bring back") : tr("Leave out"));
    QStringList out;
    for (size_t k = 0; k < run.item->leftOut.size() && k < 40; ++k) out += QString::number(run.item->leftOut[k]);
    if (run.item->leftOut.size() > 40) out += tr("\u2026");
    QString text = out.isEmpty() ? tr("Nothing is left out.") : tr("Left out: %1").arg(out.join(", "));
    if (!p.staleLeftOut.empty())
        text += "\n" + tr("\u25b2 %n of them no longer there: fewer places at this count.", nullptr,
                          int(p.staleLeftOut.size()));
    m_leftOut->setText(text);
    m_leftOut->show();
    m_bringBack->setVisible(!run.item->leftOut.empty());
    m_forget->setVisible(!p.staleLeftOut.empty());
    m_placesSection->setSummary(p.count() == size_t(p.present) ? tr("%1 places").arg(p.count())
                                                               : tr("%1 of %2 places").arg(p.present).arg(p.count()));
}

void RunSheet::goTo(const QString& name) {
    Section* section = name == "path"                                                 ? m_pathSection
                       : name == "part"                                               ? m_partSection
                       : name == "leftOut"                                            ? m_placesSection
                       : name == "crown" || name == "nose" || name.startsWith("turn") ? m_facingSection
                                                                                      : m_spacingSection;
    section->setOpen(true);
    QWidget* target = m_fields.count(name) ? static_cast<QWidget*>(field(name)->edit())
                      : name == "path"     ? static_cast<QWidget*>(m_pathChoice)
                      : name == "part"     ? static_cast<QWidget*>(m_partChoice)
                      : name == "crown"    ? static_cast<QWidget*>(m_crown->button(std::max(0, m_crown->current())))
                      : name == "nose"     ? static_cast<QWidget*>(m_nose->button(std::max(0, m_nose->current())))
                      : name == "measure"  ? static_cast<QWidget*>(m_measure->button(std::max(0, m_measure->current())))
                      : name == "ends"     ? static_cast<QWidget*>(m_ends->button(std::max(0, m_ends->current())))
                      : name == "leftOut"
                          ? static_cast<QWidget*>(m_bringBack)
                          : static_cast<QWidget*>(m_leftOver->button(std::max(0, m_leftOver->current())));
    // Unfolding changes the layout; scroll when it has settled.
    QTimer::singleShot(0, this, [this, target] {
        ensureWidgetVisible(target, 0, 60);
        target->setFocus(Qt::OtherFocusReason);
        if (auto* edit = qobject_cast<QLineEdit*>(target)) edit->selectAll();
    });
}

} // namespace vicinal
