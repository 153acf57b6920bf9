#pragma once
#include "base/result.h"
#include <QtGlobal>

namespace vicinal::test {

/// What a test needs to go on; ends it with the problem where there is none.
template<class T> T made(Result<T> r) {
    if (!r) qFatal("%s", r.problem().text.c_str());
    return std::move(r).value();
}

} // namespace vicinal::test
