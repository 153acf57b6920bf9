// Site bodies and folders in document.json, and the levels of ground beside it.
#include "base/say.h"
#include "base/text.h"
#include "model/document/body_item.h"
#include "model/file/json/document_json.h"
#include <charconv>
#include <nlohmann/json.hpp>

namespace vicinal {

Json folderJson(const FolderItem& f) { return {{"id", f.id}, {"name", f.name}}; }

FolderItem folderFromJson(const Json& j, const std::string& where) {
    return {JsonReader::id(j, where, "id"), JsonReader::word(j, where, "name")};
}

Json bodyJson(const BodyItem& b) {
    Json shape = std::visit(
        [&](const auto& s) -> Json {
            using S = std::decay_t<decltype(s)>;
            if constexpr (std::is_constructible_v<PartShape, S>) {
                return shapeJson(PartShape(s));
            } else {
                Json j = {{"kind", kindOf(b.shape)}};
                if constexpr (std::is_same_v<S, Levels>) {
                    j["asset"] = assetNamed(s.text ? *s.text : std::string(), "levels");
                    j["source"] = s.source;
                }
                writeValues(j, s);
                return j;
            }
        },
        b.shape);
    Json j = {{"id", b.id}, {"name", b.name}, {"colour", b.colour}, {"shape", std::move(shape)}};
    if (b.hidden) j["hidden"] = true;
    Json values = Json::object();
    writeValues(values, b);
    j.update(values);
    putKept(j, b);
    return j;
}

/// What no value of levels is: the file they are in, and where that came from.
static void readBeside(Levels& l, const Json& shape, const std::string& where, const PartContext& context) {
    using R = JsonReader;
    const std::string name = R::word(shape, where, "asset");
    auto bytes = context.asset ? context.asset(name) : std::nullopt;
    if (!bytes) R::fail(where, "needs the file " + name + ", which is missing");
    auto data = levelsFrom(*bytes);
    if (!data) R::fail(where, "has levels that cannot be read: " + Words::whole(data.problem().text));
    l.data = std::make_shared<const LevelData>(std::move(data).value());
    l.text = std::make_shared<const std::string>(std::move(*bytes));
    if (shape.contains("source")) l.source = R::word(shape, where, "source");
}

static BodyShape bodyShapeFrom(const Json& shape, const std::string& where, const PartContext& context) {
    const std::string kind = JsonReader::word(shape, where, "kind");
    std::optional<BodyShape> out;
    eachBodyKind([&](auto made) {
        if (kind != made.kKind) return;
        if constexpr (requires { readBeside(made, shape, where, context); }) readBeside(made, shape, where, context);
        readValues(shape, where, made);
        out = std::move(made);
    });
    if (out) return *std::move(out);
    return std::visit(
        [&]<class S>(const S& s) -> BodyShape {
            if constexpr (std::is_constructible_v<BodyShape, S>)
                return s;
            else
                JsonReader::fail(where, "has a shape \"" + kind + "\", which no site body has");
        },
        shapeFrom(shape, where, context));
}

BodyItem bodyFromJson(const Json& j, const std::string& where, const PartContext& context) {
    using R = JsonReader;
    BodyItem b;
    b.id = R::id(j, where, "id");
    b.name = R::word(j, where, "name");
    if (j.contains("colour")) b.colour = R::id(j, where, "colour");
    if (j.contains("hidden")) b.hidden = R::yes(j, where, "hidden");
    b.shape = bodyShapeFrom(R::member(j, where, "shape"), where, context);
    readValues(j, where, b);
    readKept(j, where, b);
    return b;
}

std::string levelsText(const LevelData& data) {
    std::string out;
    out.reserve(data.points.size() * 40);
    char number[40];
    const auto put = [&](double v) {
        const auto end = std::to_chars(number, number + sizeof number, v).ptr; // the shortest that reads back the same
        out.push_back(' ');
        out.append(number, end);
    };
    for (const Vec3& p : data.points) {
        out.push_back('p');
        for (int k = 0; k < 3; ++k) put(p[k]);
        out.push_back('\n');
    }
    for (const auto& line : data.breaks) {
        out.push_back('b');
        for (const Vec3& p : line)
            for (int k = 0; k < 3; ++k) put(p[k]);
        out.push_back('\n');
    }
    for (const auto& f : data.faces) {
        out.push_back('f');
        for (auto i : f) out += ' ' + std::to_string(i);
        out.push_back('\n');
    }
    return out;
}

Result<LevelData> levelsFrom(const std::string& text) {
    LevelData out;
    size_t line = 1;
    const char *at = text.data(), *end = at + text.size();
    std::vector<double> numbers;
    while (at < end) {
        const char* stop = std::find(at, end, '\n');
        const char kind = *at++;
        numbers.clear();
        while (at < stop) {
            while (at < stop && (*at == ' ' || *at == '\r')) ++at;
            if (at == stop) break;
            double v = 0;
            const auto [next, error] = std::from_chars(at, stop, v);
            if (error != std::errc() || !std::isfinite(v))
                return Problem{"line " + say::count(line) + " holds something that is no number.", "levels"};
            numbers.push_back(v);
            at = next;
        }
        const size_t n = numbers.size();
        const auto point = [&](size_t i) { return Vec3(numbers[i], numbers[i + 1], numbers[i + 2]); };
        if (kind == 'p' && n == 3) {
            out.points.push_back(point(0));
        } else if (kind == 'b' && n >= 6 && n % 3 == 0) {
            out.breaks.emplace_back();
            for (size_t i = 0; i < n; i += 3) out.breaks.back().push_back(point(i));
        } else if (kind == 'f' && n == 3) {
            std::array<std::uint32_t, 3> face{};
            for (size_t i = 0; i < 3; ++i) {
                if (!(numbers[i] >= 0 && numbers[i] < double(out.points.size())))
                    return Problem{"line " + say::count(line) + " names a point that is not there.", "levels"};
                face[i] = std::uint32_t(numbers[i]);
            }
            out.faces.push_back(face);
        } else {
            return Problem{"line " + say::count(line) + " is neither a level, a break line nor a triangle.", "levels"};
        }
        at = stop < end ? stop + 1 : end;
        ++line;
    }
    return out;
}

Levels levelsOf(LevelData data, std::string source) {
    Levels out;
    out.text = std::make_shared<const std::string>(levelsText(data));
    out.data = std::make_shared<const LevelData>(std::move(data));
    out.source = std::move(source);
    return out;
}

} // namespace vicinal
