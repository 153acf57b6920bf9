#include "app/controls/controls.h"
#include "app/controls/item_choice.h"
#include "app/controls/theme.h"
#include "app/controls/value_field.h"
#include "app/sheet/run/checks/checks_section.h"
#include "app/state/checks.h"
#include "base/text.h"
#include "model/document/run_item.h"
#include "model/verdicts/typed_check.h"
#include <QCheckBox>
#include <QDate>
#include <QDialog>
#include <QDialogButtonBox>
#include <QFormLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QSettings>
#include <QToolButton>
#include <QVBoxLayout>

namespace vicinal {
namespace {

QString nameOf(const Check& c) { // of objects
    return QString("check.%1%2").arg(wordsOf(c.of).file, c.other ? QString(".%1").arg(c.other) : QString());
}

QString unitOf(CheckIn in) {
    switch (in) {
    case CheckIn::Angle: return QString::fromUtf8("\u00b0");
    case CheckIn::Share: return "%";
    case CheckIn::Mass: return "kg";
    case CheckIn::MassPerMetre: return "kg/m";
    default: return {};
    }
}

QString typed(CheckIn in, double v) {
    return QString::fromStdString(in == CheckIn::Angle   ? text::number(v / kDegree, 4)
                                  : in == CheckIn::Share ? text::number(v * 100, 3)
                                                         : text::number(v, 6));
}

} // namespace

CheckRow::CheckRow(Store& store, const Check& question, QWidget* parent)
    : QWidget(parent), m_store(store), m_check(question) {
    const QString name = nameOf(question);
    setObjectName(name);
    auto* all = new QVBoxLayout(this);
    all->setContentsMargins(0, 0, 0, 0);
    all->setSpacing(3);
    buildHead(name, all);
    m_body = new QWidget;
    auto* box = new QVBoxLayout(m_body);
    box->setContentsMargins(16, 0, 0, 8);
    box->setSpacing(5);
    m_text = new QLabel;
    m_text->setObjectName(name + ".text");
    m_text->setWordWrap(true);
    m_text->setFont(theme::font(12));
    box->addWidget(m_text);
    buildLimits(box);
    m_error = new QLabel;
    m_error->setObjectName(name + ".error");
    m_error->setProperty("role", "error");
    m_error->setWordWrap(true);
    box->addWidget(m_error);
    m_on = new QCheckBox(tr("Checked"));
    m_on->setObjectName(name + ".on");
    m_on->setToolTip(tr("Off: it stays listed and says nothing"));
    box->addWidget(m_on);
    m_excuses = new QVBoxLayout;
    box->addLayout(m_excuses);
    m_excuse = new QPushButton(tr("Excuse this place\u2026"));
    m_excuse->setObjectName(name + ".excuse");
    m_excuse->setToolTip(tr("Writes down that it need not keep the limit, why, and who says so; it stays listed"));
    m_drop = new QPushButton(tr("Take the check away"));
    m_drop->setObjectName(name + ".drop");
    m_drop->setToolTip(tr("No longer asked; what the run is given by what it is can be switched off only"));
    box->addWidget(m_excuse);
    box->addWidget(m_drop);
    all->addWidget(m_body);
    m_body->hide();
    connect(m_title, &QPushButton::clicked, this, [this] {
        setOpen(!m_open);
        if (m_open) m_store.checks().takeInHand(m_check);
    });
    connect(m_go, &QToolButton::clicked, this, [this] {
        if (const auto run = m_store.currentRun()) m_store.checks().go(run->item->id, m_check);
    });
    connect(m_on, &QCheckBox::clicked, this,
            [this](bool on) { put(on ? tr("Check on") : tr("Check off"), {}, [&](Check& c) { c.on = on; }); });
    connect(m_excuse, &QPushButton::clicked, this, &CheckRow::askExcuse);
    connect(m_drop, &QPushButton::clicked, this, [this] {
        const auto run = m_store.currentRun();
        if (!run) return;
        const Check gone = m_check;
        m_store.change<RunItem>(run->item->id, tr("Take the check away"), {},
                                [&](RunItem& r) { r = withoutCheck(r, *run, gone); });
    });
}

void CheckRow::buildHead(const QString& name, QVBoxLayout* all) {
    auto* head = new QHBoxLayout;
    head->setSpacing(4);
    m_sign = new QLabel;
    m_sign->setObjectName(name + ".sign");
    m_sign->setFixedWidth(16);
    m_title = new QPushButton;
    m_title->setObjectName(name + ".title");
    m_title->setProperty("kind", "flat");
    m_title->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Fixed);
    m_title->setStyleSheet("text-align: left; padding: 2px 4px;");
    m_value = new QLabel;
    m_value->setObjectName(name + ".value");
    m_value->setFont(theme::font(12));
    m_go = new QToolButton;
    m_go->setObjectName(name + ".go");
    m_go->setProperty("kind", "flat");
    m_go->setText(tr("Go there"));
    m_go->setFont(theme::font(11));
    m_go->setAccessibleName(tr("Go to the worst place"));
    m_go->setToolTip(tr("Shows the worst place from the side it is seen best from"));
    head->addWidget(m_sign);
    head->addWidget(m_title, 1);
    head->addWidget(m_value);
    head->addWidget(m_go);
    all->addLayout(head);
}

void CheckRow::setOpen(bool open) {
    m_open = open;
    m_body->setVisible(open);
}

/// Every change of a check is one edit of its run.
void CheckRow::put(const QString& step, const QString& merge, const std::function<void(Check&)>& how) {
    const auto run = m_store.currentRun();
    if (!run) return;
    Check c = m_check;
    how(c);
    m_store.change<RunItem>(run->item->id, step, merge, [&](RunItem& r) { r = withCheck(r, *run, c); });
}

void CheckRow::buildLimits(QVBoxLayout* box) {
    const CheckWords& words = wordsOf(m_check.of);
    if (words.against == CheckAgainst::Body || (words.against == CheckAgainst::Run && m_check.other != 0)) {
        m_other = new QComboBox;
        m_other->setObjectName(objectName() + ".other");
        m_other->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Fixed);
        m_other->setToolTip(tr("What is to be kept clear"));
        box->addWidget(labelled(tr("Against"), m_other));
        connect(m_other, &QComboBox::activated, this, [this](int i) {
            const auto run = m_store.currentRun();
            const Id id = m_other->itemData(i).toInt();
            if (!run || id == m_check.other) return;
            Check next = m_check;
            next.other = id;
            const Check old = m_check;
            m_store.change<RunItem>(run->item->id, tr("Keep clear of %1").arg(m_other->itemText(i)), {},
                                    [&](RunItem& r) { r = withCheck(withoutCheck(r, *run, old), *run, next); });
            m_store.checks().takeInHand(next);
        });
    }
    if (m_check.of == CheckKind::Opening) {
        box->addWidget(
            lengthField("from", tr("From height"), tr("Over the seat points; both 0: the whole height"), &Check::from));
        box->addWidget(
            lengthField("to", tr("To height"), tr("Over the seat points; both 0: the whole height"), &Check::to));
    }
    if (words.least)
        box->addWidget(
            limitField("least", tr("At least"), tr("Less than this is wrong; empty: no limit"), &Check::least));
    if (words.most)
        box->addWidget(limitField("most", tr("At most"), tr("More than this is wrong; empty: no limit"), &Check::most));
    const QString near = tr("Inside the limit and so near it: doubtful; 0: never");
    box->addWidget(words.in == CheckIn::Length
                       ? lengthField("margin", tr("Doubtful within"), near, &Check::margin)
                       : numberField("margin", tr("Doubtful within"), near, nullptr, &Check::margin));
}

QWidget* CheckRow::limitField(const char* which, const QString& label, const QString& tip,
                              std::optional<double> Check::*member) {
    const CheckIn in = wordsOf(m_check.of).in;
    const QString name = objectName() + "." + which;
    if (in == CheckIn::Length) {
        auto* f = new ValueField(ValueField::Kind::OptionalLength, name, label, tip);
        f->setPlaceholder(tr("none"));
        connect(f, &ValueField::changed, this, [=, this](std::optional<double> v, bool live) {
            put(label, live ? name : QString(), [&](Check& c) { c.*member = v; });
        });
        connect(f, &ValueField::finished, &m_store, &Store::seal);
        m_limits.push_back({which, f, nullptr, member, nullptr});
        return labelled(label, f);
    }
    return numberField(which, label, tip, member, nullptr);
}

/// Of anything but lengths: a limit, or a number that is always there.
QWidget* CheckRow::numberField(const char* which, const QString& label, const QString& tip,
                               std::optional<double> Check::*limit, double Check::*plain) {
    const CheckIn in = wordsOf(m_check.of).in;
    auto* line = new QWidget;
    auto* row = new QHBoxLayout(line);
    row->setContentsMargins(0, 0, 0, 0);
    auto* edit = new QLineEdit;
    edit->setObjectName(objectName() + "." + which);
    edit->setAccessibleName(label);
    edit->setToolTip(tip);
    edit->setPlaceholderText(limit ? tr("none") : QString("0"));
    row->addWidget(edit, 1);
    row->addWidget(new QLabel(unitOf(in)));
    connect(edit, &QLineEdit::editingFinished, this, [=, this] {
        if (!edit->isModified()) return;
        edit->setModified(false);
        const QString text = edit->text().trimmed();
        std::optional<double> v;
        if (!text.isEmpty()) {
            const auto read = typedValue(in, text.toStdString(), m_store.document().unit);
            if (!read) return m_error->setText(QString::fromStdString(read.problem().text)), m_error->show();
            v = *read;
        }
        put(label, {}, [&](Check& c) { limit ? void(c.*limit = v) : void(c.*plain = v.value_or(0)); });
    });
    m_limits.push_back({which, nullptr, edit, limit, plain});
    return labelled(label, line);
}

QWidget* CheckRow::lengthField(const char* which, const QString& label, const QString& tip, double Check::*member) {
    const QString name = objectName() + "." + which;
    auto* f = new ValueField(ValueField::Kind::Length, name, label, tip);
    connect(f, &ValueField::changed, this, [=, this](std::optional<double> v, bool live) {
        put(label, live ? name : QString(), [&](Check& c) { c.*member = v.value_or(0); });
    });
    connect(f, &ValueField::finished, &m_store, &Store::seal);
    m_limits.push_back({which, f, nullptr, nullptr, member});
    return labelled(label, f);
}

void CheckRow::show(const RunResult& run, const CheckResult* found, const Check& now, bool current) {
    m_check = now;
    const Evaluation& of = m_store.evaluation();
    m_title->setText(QString::fromStdString(titleOf(now, of)));
    m_title->setToolTip(m_title->text() + ". " + tr(wordsOf(now.of).tip) + ". " +
                        tr("Click for limits and what it says."));
    const bool off = !now.on, known = found && !off;
    // What was good of an earlier state is not known to be so now.
    const Mark mark = !known || (!current && found->mark == Mark::Good) ? Mark::Open : found->mark;
    m_sign->setText(off ? "\u2013" : signOf(mark));
    m_sign->setAccessibleName(off                      ? tr("off")
                              : mark == Mark::Good     ? tr("good")
                              : mark == Mark::Open     ? tr("being measured")
                              : mark == Mark::Doubtful ? tr("doubtful")
                                                       : tr("wrong"));
    const QColor tone = off || !known ? theme::muted() : theme::markColour(mark);
    m_sign->setStyleSheet(QString("color: %1; font-weight: 600;").arg(tone.name()));
    QString value = known && found->value ? m_store.say(inWords(now, *found->value)) : QString();
    if (known && !found->value && !found->cannot) value = tr("clear");
    if (known && found->cannot) value = tr("cannot be said");
    m_value->setText(off ? tr("off") : value);
    QColor ink = mark == Mark::Good || mark == Mark::Open ? theme::ink() : tone;
    if (!current && !off) ink = theme::muted();
    m_value->setStyleSheet(QString("color: %1;").arg(ink.name()));
    m_worst = known ? found->worst : std::nullopt;
    m_go->setEnabled(m_worst && wordsOf(now.of).lane[0] != 0);
    m_go->setVisible(!off);
    QString text = found ? m_store.say(found->text) : tr("Measuring\u2026");
    if (off) text = tr("Switched off.");
    if (known)
        for (const Words& w : found->remarks) text += "\n" + m_store.say(w);
    m_text->setText(text);
    m_on->setChecked(now.on);
    m_excuse->setVisible(known && found->worst && found->worst->mark == Mark::Wrong && wordsOf(now.of).lane[0] != 0);
    const bool given = givenCheck(run, now).has_value();
    m_drop->setVisible(!given || std::any_of(run.item->checks.begin(), run.item->checks.end(),
                                             [&](const Check& c) { return c.same(now); }));
    m_drop->setText(given ? tr("Back to what it is given") : tr("Take the check away"));
    const auto wrong = defectOf(now);
    m_error->setText(wrong ? m_store.say(wrong->text) : QString());
    m_error->setVisible(wrong.has_value());
    if (m_other) {
        if (wordsOf(now.of).against == CheckAgainst::Body)
            fillItems(m_other, m_store.document().bodies, now.other, tr("(deleted)"));
        else
            fillItems(m_other, m_store.document().runs, now.other, tr("(deleted)"));
    }
    showLimits(run);
    showExcuses();
}

void CheckRow::showLimits(const RunResult&) {
    const Unit unit = m_store.document().unit;
    for (const Limit& l : m_limits) {
        const std::optional<double> v = l.optional ? m_check.*l.optional : std::optional(m_check.*l.plain);
        if (l.field) {
            l.field->setUnit(unit);
            l.field->setValue(v);
        } else if (!(l.edit->hasFocus() && l.edit->isModified()))
            l.edit->setText(v ? typed(wordsOf(m_check.of).in, *v) : QString());
    }
}

void CheckRow::showExcuses() {
    while (QLayoutItem* item = m_excuses->takeAt(0)) {
        if (item->widget()) item->widget()->deleteLater();
        delete item;
    }
    for (size_t k = 0; k < m_check.excused.size(); ++k) {
        const Excuse& e = m_check.excused[k];
        auto* line = new QWidget;
        auto* row = new QHBoxLayout(line);
        row->setContentsMargins(0, 0, 0, 0);
        auto* label = new QLabel(QString::fromStdString(excuseInWords(e)));
        label->setWordWrap(true);
        label->setProperty("role", "muted");
        auto* back = new QToolButton;
        back->setObjectName(objectName() + QString(".takeBack.%1").arg(k));
        back->setProperty("kind", "flat");
        back->setIcon(theme::icon("x"));
        back->setToolTip(tr("Take this excuse back"));
        back->setAccessibleName(tr("Take this excuse back"));
        connect(back, &QToolButton::clicked, this, [this, k] {
            put(tr("Take an excuse back"), {}, [&](Check& c) {
                if (k < c.excused.size()) c.excused.erase(c.excused.begin() + long(k));
            });
        });
        row->addWidget(label, 1);
        row->addWidget(back, 0, Qt::AlignTop);
        m_excuses->addWidget(line);
    }
}

void CheckRow::askExcuse() {
    const auto run = m_store.currentRun();
    if (!run || !run->placed || !m_worst) return;
    const CheckedPlace place = *m_worst;
    QDialog dialog(this);
    dialog.setObjectName("excuse");
    dialog.setWindowTitle(tr("Excuse"));
    auto* form = new QFormLayout(&dialog);
    auto* which = new QComboBox;
    which->setObjectName("excuse.which");
    which->addItem(place.other >= 0 ? tr("This pair: %1 and %2").arg(place.place + 1).arg(place.other + 1)
                                    : tr("This place: %1").arg(place.place + 1));
    const Id one = run->partIdAt(place.place);
    const auto against = place.item ? m_store.evaluation().standing(place.item) : std::shared_ptr<const Standing>(run);
    const Id two = against ? against->partIdAt(place.other) : 0;
    const auto& d = m_store.document();
    if (one && two)
        which->addItem(
            tr("All pairs of %1 and %2")
                .arg(QString::fromStdString(vicinal::nameOf(d, one)), QString::fromStdString(vicinal::nameOf(d, two))));
    else if (one)
        which->addItem(tr("All places of %1").arg(QString::fromStdString(vicinal::nameOf(d, one))));
    auto* why = new QLineEdit;
    why->setObjectName("excuse.why");
    auto* by = new QLineEdit(QSettings().value("checks/by").toString());
    by->setObjectName("excuse.by");
    form->addRow(tr("What"), which);
    form->addRow(tr("Why"), why);
    form->addRow(tr("Written down by"), by);
    form->addRow(dialogButtons(&dialog, tr("Excuse"), "excuse.ok"));
    if (dialog.exec() != QDialog::Accepted) return;
    QSettings().setValue("checks/by", by->text());
    const std::string today = QDate::currentDate().toString(Qt::ISODate).toStdString();
    put(tr("Excuse a place"), {}, [&](Check& c) {
        excuse(c, place, why->text().trimmed().toStdString(), by->text().trimmed().toStdString(), today);
        if (which->currentIndex() == 1) {
            Excuse& e = c.excused.back();
            e.place = e.other = 0;
            e.part = one;
            e.otherPart = two;
        }
    });
}

} // namespace vicinal
