#include "app/dialogs/profile_keys.h"
#include "app/controls/format.h"
#include "layout/along/typed.h"
#include "model/document/run_item.h"
#include <QCoreApplication>
#include <QCursor>
#include <QInputDialog>
#include <QToolTip>
#include <map>

namespace vicinal::profile_keys {
namespace {

QString tr(const char* text) { return QCoreApplication::translate("vicinal::profile_keys", text); }

} // namespace

QString title(const std::string& profile) {
    const std::map<std::string, QString> names{{"pitches", tr("pitch")}, {"roll", tr("roll")}, {"size", tr("size")},
                                               {"across", tr("across")}, {"up", tr("up")},     {"pace", tr("pace")}};
    return names.at(profile);
}

QString valueText(const std::string& profile, double v, Unit unit) {
    switch (valuesOfProfile(profile)) {
    case ProfileKind::Angle: return QString::number(v / kDegree, 'g', 5) + QString::fromUtf8("\u00b0");
    case ProfileKind::Factor: return QString::number(v, 'g', 4);
    case ProfileKind::Length: break;
    }
    return lengthText(v, unit);
}

void change(Store& store, const RunResult& run, const std::string& profile, const QString& step, const QString& merge,
            const std::function<void(Profile&, double)>& how) {
    if (!run.path || !run.path->path) return;
    const double length = run.path->path->length();
    store.change<RunItem>(run.item->id, step, merge, [&](RunItem& r) {
        if (Profile* p = profileOf(r, profile)) how(*p, length);
    });
}

void remove(Store& store, const RunResult& run, const std::string& profile, size_t key) {
    change(store, run, profile, tr("Delete a key"), {}, [&](Profile& p, double) { removeKey(p, key); });
}

void type(QWidget* parent, Store& store, const RunResult& run, const std::string& profile, size_t key) {
    const Profile* now = profileOf(*run.item, profile);
    if (!now || key >= now->keys.size() || !run.path || !run.path->path) return;
    const Unit unit = store.document().unit;
    const ProfileKind of = valuesOfProfile(profile);
    Profile one{{now->keys[key]}, true};
    one.keys[0].at = stationOf(*now, key, run.path->path->length());
    QString text = QString::fromStdString(profileText(one, unit, of)).section(';', 0, 0);
    bool ok = false;
    text = QInputDialog::getText(parent, tr("Key of %1").arg(title(profile)), tr("Station: value"), QLineEdit::Normal,
                                 text, &ok);
    if (!ok) return;
    const auto typed = parseProfile(text.toStdString(), unit, of);
    if (!typed || typed->keys.size() != 1)
        return QToolTip::showText(
            QCursor::pos(),
            typed ? tr("One station and one value, with a colon between.") : store.say(typed.problem().text), parent);
    change(store, run, profile, tr("Type a key"), {},
           [&](Profile& p, double L) { moveKey(p, key, typed->keys[0].at, typed->keys[0].value, L); });
}

} // namespace vicinal::profile_keys
