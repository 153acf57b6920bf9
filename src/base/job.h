#pragma once
#include <atomic>

namespace vicinal {

/// Set by another thread to end long work early.
using Stop = std::atomic<bool>;
/// How far long work is, 0 to 1; read by another thread.
using Progress = std::atomic<double>;

/// What long work shares with whoever waits for it.
struct Job {
    Stop stop = false;
    Progress progress = 0;    ///< 0 where it cannot be said
    Progress within = 0;      ///< the same of its step in hand, where that takes long
    bool interactive = false; ///< what takes long is left for later, with its last good state
};

inline bool stopped(const Stop* stop) { return stop && stop->load(std::memory_order_relaxed); }

} // namespace vicinal
