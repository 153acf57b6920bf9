#pragma once
#include "base/job.h"
#include "base/result.h"
#include "base/text.h"
#include <QString>
#include <QtConcurrentRun>
#include <functional>
#include <memory>
#include <optional>

class QComboBox;
class QWidget;

namespace vicinal {

/// Waits for a job while the window stays alive; after a moment a box with progress and a way to cancel stands over
/// `parent`. False as soon as it was cancelled, even when the work takes a while to notice.
bool waitFor(QWidget* parent, const QString& text, Job&, const std::function<bool()>& finished);

/// Does work on another thread meanwhile. Nothing when it was cancelled. `work` must own all it uses, since it may go
/// on for a while then, and must heed the job's stop.
template<class T> std::optional<T> inBackground(QWidget* parent, const QString& text, std::function<T(Job&)> work) {
    const auto job = std::make_shared<Job>();
    // No exception may cost more than a message: what the work would give as a problem, where it can.
    auto future = QtConcurrent::run([job, work]() -> T {
        if constexpr (std::is_constructible_v<T, Problem>) {
            try {
                return work(*job);
            } catch (const std::bad_alloc&) {
                return T(Problem{"There is not enough memory for this.", ""});
            } catch (const std::exception& e) {
                return T(Problem{"This cannot be done: " + text::quoted(e.what()) + ".", ""});
            } catch (...) {
                return T(Problem{"This cannot be done: a library gave up without a reason.", ""});
            }
        } else
            return work(*job);
    });
    if (!waitFor(parent, text, *job, [&] { return future.isFinished(); })) return std::nullopt;
    return future.result();
}

/// A choice of the unit of a file; its first entry asks. Data: mm. `pixels`: with the units of screen drawings.
/// `known`: mm that the file itself says, 0 when it does not.
QComboBox* unitChoice(const QString& objectName, bool pixels, double known);

} // namespace vicinal
