#pragma once
// Foreign files are read in a child process, with limits on memory and time: what crashes or never returns there costs
// a message here. The child is vicinal-cli beside this program, run with the hidden command "read-foreign".
#include "exchange/in/bring_in.h"

namespace vicinal {

/// The child's part: reads the file at `path` (called `name` in messages) and writes the outcome to file descriptor 3.
/// kind: "dxf", "svg", "step-curves", "step-bodies", "mesh" (with `extension` and `unit`) or "body" (a stored solid).
/// Returns the exit code.
int readForeignHere(const std::string& kind, const std::string& path, const std::string& name,
                    const std::string& extension, double unit);

/// A stored solid (solidFromBinary) read in a child, since its bytes may come from anybody.
Result<SolidPtr> readStoredSolid(const std::string& bytes, const Stop* = nullptr);

} // namespace vicinal
