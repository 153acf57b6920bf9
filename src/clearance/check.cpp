#include "clearance/check.h"

namespace vicinal {

std::optional<CheckKind> checkNamed(const std::string& file) {
    for (size_t i = 0; i < kCheckKinds; ++i)
        if (file == kChecks[i].file) return CheckKind(i);
    return std::nullopt;
}

} // namespace vicinal
