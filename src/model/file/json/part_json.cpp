#include "geometry/curves/edit.h"
#include "model/document/body_item.h"
#include "model/document/part_item.h"
#include "model/file/json/document_json.h"
#include "model/recipes/body_shape.h"
#include "parts/makers/maker.h"
#include <nlohmann/json.hpp>

namespace vicinal {
namespace {

constexpr const char* kAxes[] = {"+x", "-x", "+y", "-y", "+z", "-z"};

std::string assetName(const Brought& m) { return assetNamed(m.bytes ? *m.bytes : std::string(), m.extension); }

/// Beside a STEP file: its chosen bodies in binary form, so that opening does not have to read the STEP file again.
std::string readyName(const Brought& m, const std::string& asset) {
    std::string out = asset.substr(0, asset.find_last_of('.'));
    for (int i : m.chosen) out += "-" + std::to_string(i + 1);
    return out + ".body";
}

Json direction(const Direction& d) {
    if (const auto axis = axisOf(d)) return kAxes[int(*axis)];
    return vec(d.v);
}

Json pieceJson(const Piece& p) {
    Json shape = std::visit(
        [](const auto& s) -> Json {
            if constexpr (std::is_same_v<std::remove_cvref_t<decltype(s)>, PartUse>)
                return {{"kind", "part"}, {"part", s.part}};
            else
                return shapeJson(PartShape(s));
        },
        p.shape);
    return {{"name", p.name},      {"shape", shape}, {"at", vec(p.at)},
            {"turn", vec(p.turn)}, {"size", p.size}, {"mirrored", p.mirrored}};
}

} // namespace

std::string assetNamed(const std::string& bytes, const std::string& extension) {
    std::uint64_t h = 1469598103934665603ull; // FNV-1a: a name by content, not a seal
    for (unsigned char c : bytes) h = (h ^ c) * 1099511628211ull;
    char name[32];
    std::snprintf(name, sizeof name, "%016llx", static_cast<unsigned long long>(h));
    return std::string("assets/") + name + "." + extension;
}

Json shapeJson(const PartShape& shape) {
    Json j = {{"kind", kindOf(shape)}};
    if (const auto* m = std::get_if<Maker>(&shape)) {
        writeValues(j, *m);
    } else if (const auto* b = std::get_if<Brought>(&shape)) {
        j["asset"] = assetName(*b);
        j["source"] = b->source;
        j["scale"] = b->scale;
        if (!b->chosen.empty()) j["bodies"] = b->chosen;
    } else if (const auto* f = std::get_if<FlatOutline>(&shape)) {
        j["source"] = f->source;
        j["thickness"] = f->thickness;
        j["rings"] = Json::array();
        for (const auto& ring : *f->rings) {
            j["rings"].push_back(Json::array());
            for (const auto& s : ring) j["rings"].back().push_back(segmentJson(s));
        }
    } else if (const auto* e = std::get_if<ExtrudedPath>(&shape)) {
        j["path"] = e->path;
        j["height"] = e->height;
    } else {
        j["list"] = Json::array();
        for (const auto& p : std::get<Pieces>(shape).list) j["list"].push_back(pieceJson(p));
    }
    return j;
}

namespace {

using R = JsonReader;

Direction directionFrom(const Json& j, const std::string& where, const char* key) {
    const Json& v = R::member(j, where, key);
    if (v.is_array()) return R::vector(v, where);
    return Axis(R::choice(j, where, key, kAxes));
}

} // namespace

PartShape shapeFrom(const Json& j, const std::string& where, const PartContext& context) {
    const std::string kind = R::word(j, where, "kind");
    if (auto maker = makerOf(kind)) {
        readValues(j, where, *maker, {context.version != 3, {}, {}}); // 2 had fewer values
        return *maker;
    }
    if (kind == "mesh" || kind == "solid") {
        Brought b;
        const std::string name = R::word(j, where, "asset");
        b.source = R::word(j, where, "source");
        b.scale = R::number(j, where, "scale");
        b.extension = name.substr(name.find_last_of('.') + 1);
        if (j.contains("bodies"))
            for (const auto& i : R::list(j, where, "bodies")) {
                if (!i.is_number_integer() || i.get<long>() < 0 || i.get<long>() > kLargestId)
                    R::fail(where, "needs whole numbers for \"bodies\"");
                b.chosen.push_back(i.get<int>());
            }
        auto bytes = context.asset ? context.asset(name) : std::nullopt;
        if (!bytes) R::fail(where, "needs the file " + name + ", which is missing");
        b.bytes = std::make_shared<const std::string>(std::move(*bytes));
        if (!b.body) {
            if (!context.body) R::fail(where, "holds a body, and no reader for bodies was given");
            auto read = context.body(b, kind == "solid" ? context.asset(readyName(b, name)) : std::nullopt);
            if (!read) R::fail(where, "has a body that cannot be read: " + Words::whole(read.problem().text));
            b.body = *read;
        }
        return b;
    }
    if (kind == "outline") {
        FlatOutline f;
        f.source = R::word(j, where, "source");
        f.thickness = R::number(j, where, "thickness");
        std::vector<Ring> rings;
        for (const auto& ring : R::list(j, where, "rings")) {
            if (!ring.is_array()) R::fail(where, "needs a list of pieces for each ring");
            rings.emplace_back();
            for (const auto& s : ring) rings.back().push_back(segmentFromJson(s, where));
        }
        f.rings = std::make_shared<const std::vector<Ring>>(std::move(rings));
        return f;
    }
    if (kind == "extruded path") return ExtrudedPath{R::id(j, where, "path"), R::number(j, where, "height")};
    if (kind == "pieces") {
        Pieces all;
        for (const auto& p : R::list(j, where, "list")) {
            const std::string place = where + ", piece " + std::to_string(all.list.size() + 1);
            Piece piece;
            piece.name = R::word(p, place, "name");
            piece.at = R::vector(R::member(p, place, "at"), place);
            piece.turn = R::vector(R::member(p, place, "turn"), place);
            piece.size = R::number(p, place, "size");
            const Json& mirrored = R::member(p, place, "mirrored");
            piece.mirrored = mirrored.is_boolean() && mirrored.get<bool>();
            const Json& shape = R::member(p, place, "shape");
            if (R::word(shape, place, "kind") == "part")
                piece.shape = PartUse{R::id(shape, place, "part")};
            else if (R::word(shape, place, "kind") == "pieces")
                R::fail(place, "has pieces of its own; use another part for that");
            else
                piece.shape = asPiece(shapeFrom(shape, place, context), 0);
            all.list.push_back(std::move(piece));
        }
        return all;
    }
    R::fail(where, "has a shape \"" + kind + "\", which is not known");
}

Json partJson(const PartItem& p) {
    Json point;
    if (const auto* b = std::get_if<BoxPoint>(&p.seat.point))
        point = {{"box", {b->x, b->y, b->z}}};
    else
        point = {{"at", vec(std::get<Vec3>(p.seat.point))}};
    Json seat = {{"point", point}, {"nose", direction(p.seat.nose)}, {"crown", direction(p.seat.crown)}};
    if (p.seat.pins) seat["pins"] = {vec((*p.seat.pins)[0]), vec((*p.seat.pins)[1])};
    if (p.seat.hooks) seat["hooks"] = {vec((*p.seat.hooks)[0]), vec((*p.seat.hooks)[1])};
    Json out = {{"id", p.id}, {"name", p.name}, {"shape", shapeJson(p.shape)}, {"seat", seat}};
    if (p.under != std::array<Id, 2>{0, 0}) out["under"] = {p.under[0], p.under[1]};
    if (p.size != 1) out["size"] = p.size;
    if (p.density != 0) out["density"] = p.density;
    putKept(out, p);
    return out;
}

PartItem partFromJson(const Json& j, const std::string& where, const PartContext& context) {
    PartItem p;
    p.id = R::id(j, where, "id");
    p.name = R::word(j, where, "name");
    p.shape = shapeFrom(R::member(j, where, "shape"), where, context);
    if (j.contains("size")) p.size = R::number(j, where, "size");
    if (j.contains("density")) p.density = R::number(j, where, "density");
    readKept(j, where, p);
    if (j.contains("under")) {
        const Json& under = R::list(j, where, "under");
        if (under.size() != 2) R::fail(where, "needs two parts for \"under\"");
        for (size_t k = 0; k < 2; ++k) {
            if (!under[k].is_number_integer() || under[k].get<double>() < 0 || under[k].get<double>() > 2e9)
                R::fail(where, "stands on something that is no part");
            p.under[k] = under[k].get<Id>();
        }
    }
    if (context.version >= 4 && !j.contains("seat")) {
        if (std::holds_alternative<Maker>(p.shape)) p.seat.point = Vec3(0, 0, 0); // its maker's own, as in the window
        return p;
    }
    const Json& seat = R::member(j, where, "seat");
    const Json& point = R::member(seat, where, "point");
    if (point.contains("box")) {
        const Vec3 b = R::vector(point["box"], where);
        for (int i = 0; i < 3; ++i)
            if (b[i] != -1 && b[i] != 0 && b[i] != 1) R::fail(where, "has a box point that is not -1, 0 or 1");
        p.seat.point = BoxPoint{int(b.x()), int(b.y()), int(b.z())};
    } else
        p.seat.point = R::vector(R::member(point, where, "at"), where);
    p.seat.nose = directionFrom(seat, where, "nose");
    p.seat.crown = directionFrom(seat, where, "crown");
    const auto two = [&](const char* key, std::optional<Pins>& into) {
        if (!seat.contains(key)) return;
        const Json& points = R::list(seat, where, key);
        if (points.size() != 2) R::fail(where, std::string("needs two points for \"") + key + "\"");
        into = Pins{R::vector(points[0], where), R::vector(points[1], where)};
    };
    two("pins", p.seat.pins);
    two("hooks", p.seat.hooks);
    return p;
}

std::vector<std::pair<std::string, std::shared_ptr<const std::string>>> assetsOf(const Document& d) {
    std::vector<std::pair<std::string, std::shared_ptr<const std::string>>> out;
    const auto put = [&](const std::string& name, const auto& bytes) {
        if (std::none_of(out.begin(), out.end(), [&](const auto& a) { return a.first == name; }))
            out.emplace_back(name, bytes());
    };
    const auto add = [&](const Brought& b) {
        if (!b.bytes) return;
        const std::string name = assetName(b);
        put(name, [&] { return b.bytes; });
        if (const auto solid = solidOf(*b.body))
            put(readyName(b, name), [&] { return std::make_shared<const std::string>(toBinary(*solid)); });
    };
    for (const auto& p : d.parts) {
        if (const auto* b = std::get_if<Brought>(&p->shape)) add(*b);
        if (const auto* all = std::get_if<Pieces>(&p->shape))
            for (const auto& piece : all->list)
                if (const auto* b = std::get_if<Brought>(&piece.shape)) add(*b);
    }
    for (const auto& body : d.bodies) {
        if (const auto* b = std::get_if<Brought>(&body->shape)) add(*b);
        if (const auto* l = std::get_if<Levels>(&body->shape); l && l->text)
            put(assetNamed(*l->text, "levels"), [&] { return l->text; });
    }
    return out;
}

} // namespace vicinal
