#pragma once
// Small documents and a folder that goes away, for several tests.
#include "exchange/in/bring_in.h"
#include "layout/facing/facing.h"
#include "layout/vehicles/envelope.h"
#include "model/delivery/delivery.h"
#include "model/document/body_item.h"
#include "model/document/heap.h"
#include "model/document/part_item.h"
#include "model/document/path_item.h"
#include "model/document/run_item.h"
#include "model/evaluate/bodies/wheel_bodies.h"
#include "model/evaluate/evaluate.h"
#include "model/evaluate/giving.h"
#include "model/file/document_file.h"
#include "support.h"
#include <QTemporaryDir>
#include <fstream>

namespace vicinal::test {

/// A wedge that is no box, so that facing shows: 8 triangles, nose end narrower. OBJ text.
std::string wedgeObj(double x = 0);

std::string writeText(const QTemporaryDir& dir, const char* name, const std::string& text);

/// Every kind of path piece, part, rule and word once.
Document fullDocument();

/// The same with a run that has everything a run can have besides; it need not be one that can be worked out.
Document richDocument();

} // namespace vicinal::test
