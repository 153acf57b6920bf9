#pragma once
#include "app/state/store.h"
#include "model/edits/profile_edits.h"
#include <QString>
#include <functional>

class QWidget;

/// Keys of the profiles of the run in hand, as the strip and the view change them.
namespace vicinal::profile_keys {

/// "roll", "pitch": as lanes and handles are called.
QString title(const std::string& profile);
/// A value with its unit.
QString valueText(const std::string& profile, double value, Unit);
/// Changes one profile of a run; `how` gets the length of its path, mm.
void change(Store&, const RunResult&, const std::string& profile, const QString& step, const QString& merge,
            const std::function<void(Profile&, double length)>& how);
void remove(Store&, const RunResult&, const std::string& profile, size_t key);
/// Asks for a key's station and value as text; says what cannot be read.
void type(QWidget*, Store&, const RunResult&, const std::string& profile, size_t key);

} // namespace vicinal::profile_keys
