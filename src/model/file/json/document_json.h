#pragma once
// Shared by the files that write and read document.json.
#include "base/describe.h"
#include "geometry/path/segment.h"
#include "layout/along/profile.h"
#include "model/file/document_file.h"
#include "model/recipes/part_shape.h"
#include <nlohmann/json_fwd.hpp>
#include <span>
#include <string>

namespace vicinal {

struct Check;
struct LevelData;

using Json = nlohmann::ordered_json;

inline constexpr long kLargestId = 1'000'000'000;

Json vec(const Vec3&);

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

/// Writes what describe() hands out.
struct JsonWriter {
    Json& j;
    void length(const char* key, const char*, const char*, double v) const;
    void limit(const char* key, const char*, const char*, const std::optional<double>& v) const;
    void angle(const char* key, const char*, const char*, double v) const;
    void number(const char* key, const char*, const char*, double v) const;
    void count(const char* key, const char*, const char*, long v) const;
    void flag(const char* key, const char*, const char*, bool v) const;
    void point(const char* key, const char*, const char*, const Vec3& v) const;
    void turn(const char* key, const char*, const char*, const Vec3& v) const;
    void direction(const char* key, const char*, const char*, const Vec3& v) const;
    void stations(const char* key, const char*, const char*, const std::vector<double>& all) const;
    void profile(const char* key, const char*, const char*, const Profile& p, ProfileKind) const;
    void item(const char* key, const char*, const char*, Id id, ItemKind) const;
    void choice(const char* key, const char*, const char*, int v, ChoiceWords words) const;
    void wheels(const char* key, const std::vector<Wheel>& wheels) const;
};

/// Reading throws Problem (caught at the top) so that every value can say where it stands.
struct JsonReader {
    [[noreturn]] static void fail(const std::string& where, const std::string& what);
    static const Json& member(const Json& j, const std::string& where, const char* key);
    static double number(const Json& j, const std::string& where, const char* key);
    /// Also beyond the largest length: a very flat arc has its centre far out.
    static double finite(const Json& j, const std::string& where, const char* key);
    static int id(const Json& j, const std::string& where, const char* key);
    static long whole(const Json& j, const std::string& where, const char* key);
    static bool yes(const Json& j, const std::string& where, const char* key);
    static std::string word(const Json& j, const std::string& where, const char* key);
    static int choice(const Json& j, const std::string& where, const char* key, std::span<const char* const> words);
    static Vec3 vector(const Json& j, const std::string& where);
    static std::vector<double> numbers(const Json& j, const std::string& where);
    static const Json& list(const Json& j, const std::string& where, const char* key);
};

/// Reads what describe() hands out.
struct JsonValues {
    const Json& j;
    const std::string& where;
    bool lenient = false; ///< a value that is not there keeps what it has: its default
    JsonValues(const Json& from, const std::string& place, bool mayMiss = false)
        : j(from), where(place), lenient(mayMiss) {}
    std::span<const char* const> since{}; ///< of an older file: the values that it had; others may miss
    std::span<const char* const> later{}; ///< or those that it cannot have had
    bool skips(const char* key) const;
    void length(const char* key, const char*, const char*, double& v) const;
    void limit(const char* key, const char*, const char*, std::optional<double>& v) const;
    void angle(const char* key, const char*, const char*, double& v) const;
    void number(const char* key, const char*, const char*, double& v) const;
    void count(const char* key, const char*, const char*, long& v) const;
    void flag(const char* key, const char*, const char*, bool& v) const;
    void point(const char* key, const char*, const char*, Vec3& v) const;
    void turn(const char* key, const char* label, const char* tip, Vec3& v) const;
    void direction(const char* key, const char* label, const char* tip, Vec3& v) const;
    void stations(const char* key, const char*, const char*, std::vector<double>& all) const;
    /// A profile that is not there has no key (the spacing's own default takes its place when the rule is written by
    /// hand).
    void profile(const char* key, const char*, const char*, Profile& p, ProfileKind) const;
    void item(const char* key, const char*, const char*, Id& id, ItemKind) const;
    void choice(const char* key, const char*, const char*, int& v, ChoiceWords words) const;
    void wheels(const char* key, std::vector<Wheel>& out) const;
};

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
