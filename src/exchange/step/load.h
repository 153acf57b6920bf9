#pragma once
// The STEP plugin as the program sees it.
#include "exchange/step/plugin.h"
#include <mutex>

namespace vicinal {

/// A function of the plugin; null when it is not beside the program.
void* stepFunction(const char* name);
template<class Function> Function* inStepPlugin(const char* name) {
    return reinterpret_cast<Function*>(stepFunction(name));
}
/// OpenCASCADE's readers and writers keep state of their own: one at a time. A stopped one makes way when it notices.
std::mutex& stepMutex();

} // namespace vicinal
