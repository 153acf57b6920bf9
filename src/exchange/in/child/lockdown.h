#pragma once
// What the reading child may still do once it has the file: compute, and answer.

namespace vicinal::here {

enum class MayOpen {
    Nothing, ///< everything that is needed is in memory
    ToRead,  ///< libraries and the file itself
};

/// From now on, for good: no network, no other programs, no new processes (threads stay), nothing is written, renamed
/// or removed, and files are opened as said. What is not allowed fails with EPERM. False where the kernel has no such
/// filter, or the processor is none of those it is written for; the limits of time and memory hold all the same.
/// Source: seccomp(2), Linux "Seccomp BPF" documentation.
bool lockDown(MayOpen);

} // namespace vicinal::here
