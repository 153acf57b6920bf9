#include "checks/check.h"

namespace vicinal {

std::optional<CheckOf> checkNamed(const std::string& file) {
    for (size_t i = 0; i < kCheckKinds; ++i)
        if (file == kChecks[i].file) return CheckOf(i);
    return std::nullopt;
}

} // namespace vicinal
