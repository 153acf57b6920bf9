#pragma once
// What a reading child answers, as bytes. Reading throws Broken where they are not what they say.
#include "exchange/in/bring_in.h"
#include "exchange/in/child/wire.h"

namespace vicinal::wire {

void put(Writer&, const CurveFile&);
CurveFile curvesFrom(Reader&);
void put(Writer&, const StepFile&);
StepFile bodiesFrom(Reader&);
void put(Writer&, const Mesh&, const MeshReport&);
/// `report`: null where it is not wanted.
Mesh meshFrom(Reader&, MeshReport* report);

} // namespace vicinal::wire
