#pragma once
// Shared by the files that write and read document.json.
#include "geometry/path/segment.h"
#include "layout/along/profile.h"
#include "model/file/document_file.h"
#include "model/recipes/part_shape.h"
#include "model/values/json_reader.h"
#include "model/values/values.h"
#include <string>

namespace vicinal {

struct Check;
struct LevelData;
struct Spacing;

Json segmentJson(const Segment&);
Segment segmentFromJson(const Json&, const std::string& where);
Json heapJson(const HeapItem&);
HeapItem heapFromJson(const Json&, const std::string& where);
Json checkJson(const Check&);
Check checkFromJson(const Json&, const std::string& where);
Json bodyJson(const BodyItem&);
Json folderJson(const FolderItem&);
FolderItem folderFromJson(const Json&, const std::string& where);
Json deliveryJson(const Delivery&);
Delivery deliveryFromJson(const Json&, const std::string& where);

/// What all rules of spacing share; of a constant one for who only reads.
Handing sharedBy(const Spacing&);

/// Lock and folder of any item.
void putKept(Json&, bool locked, Id folder);
void readKept(const Json&, const std::string& where, bool& locked, Id& folder);
template<class Item> void putKept(Json& j, const Item& item) { putKept(j, item.locked, item.folder); }
template<class Item> void readKept(const Json& j, const std::string& where, Item& item) {
    readKept(j, where, item.locked, item.folder);
}

/// What reading parts needs besides their text.
struct PartContext {
    const AssetSource& asset;
    const BodyReader& body;
    long version;
};
Json shapeJson(const PartShape&);
PartShape shapeFrom(const Json&, const std::string& where, const PartContext&);
BodyItem bodyFromJson(const Json&, const std::string& where, const PartContext&);
Json partJson(const PartItem&);
PartItem partFromJson(const Json&, const std::string& where, const PartContext&);

/// Name of an asset by its content.
std::string assetNamed(const std::string& bytes, const std::string& extension);
/// Levels as a text of their own: a line a point ("p x y z"), a break line ("b x y z x y z ..."), a triangle ("f i j
/// k", points from 0). Seventeen digits: read back they are the same.
std::string levelsText(const LevelData&);
Result<LevelData> levelsFrom(const std::string& text);

} // namespace vicinal
