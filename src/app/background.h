#pragma once
#include "exchange/bring_in.h"
#include <QString>
#include <functional>

class QComboBox;
class QWidget;

namespace vicinal {

/// Does work on another thread while the window stays alive; after a moment a box with progress and a way to cancel
/// stands over `parent`. False when it was cancelled. The work must heed `stop`.
bool inBackground(QWidget* parent, const QString& text, const std::function<void(Stop& stop, Progress&)>& work);

/// A choice of the unit of a file; its first entry asks. Data: mm. `pixels`: with the units of screen drawings.
/// `known`: mm that the file itself says, 0 when it does not.
QComboBox* unitChoice(const QString& objectName, bool pixels, double known);

} // namespace vicinal
