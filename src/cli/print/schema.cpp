#include "model/file/json/schema.h"
#include "cli/commands.h"
#include "cli/common.h"

namespace vicinal::cli {

int schema() { return print(documentSchema()); }

} // namespace vicinal::cli
