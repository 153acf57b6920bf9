#include "model/delivery/formats.h"
#include "base/text.h"
#include <algorithm>
#include <array>

namespace vicinal {
namespace {

using enum FormatUse;

const std::vector<Format>& table() {
    static const std::vector<Format> all{
        {{"dxf"},
         "DXF",
         {{ReadCurves, 1}, {ReadPart, 7}, {ReadLevels, 5}, {Paper, 3}, {Solids, 3}, {Lines, 3}, {Export, 3}}},
        {{"svg"}, "SVG", {{ReadCurves, 2}, {ReadPart, 8}, {Paper, 2}, {Lines, 1}}},
        {{"step", "stp"}, "STEP", {{ReadCurves, 3}, {ReadPart, 1}, {Solids, 1}, {Bodies, 1}}},
        {{"csv"}, "CSV", {{ReadPoints, 1}, {ReadLevels, 1}, {Tape, 2}, {List, 2}, {Export, 1}, {Film, 2}}},
        {{"txt"}, "CSV", {{ReadPoints, 2}, {ReadLevels, 2}}},
        {{"xyz"}, "CSV", {{ReadLevels, 3}}},
        {{"asc", "grd"}, "an ASCII grid", {{ReadLevels, 4}}},
        {{"obj"}, "OBJ", {{ReadCurves, 4}, {ReadPart, 2}, {ReadLevels, 6}, {Solids, 4}, {Bodies, 3}, {Export, 5}}},
        {{"stl"}, "STL", {{ReadPart, 3}, {ReadLevels, 7}, {Solids, 5}, {Bodies, 2}, {Export, 6}}},
        {{"ply"}, "PLY", {{ReadPart, 4}, {ReadLevels, 8}, {Solids, 6}, {Bodies, 4}, {Export, 7}}},
        {{"glb"}, "glTF", {{ReadPart, 5}, {ReadLevels, 9}, {Solids, 2}, {Export, 4}, {Film, 1}}},
        {{"gltf"}, "glTF", {{ReadPart, 6}, {ReadLevels, 10}}},
        {{"3mf"}, "3MF", {{Solids, 7}, {Bodies, 5}}},
        {{"pdf"}, "PDF", {{Paper, 1}, {Tape, 1}, {Lines, 2}}},
        {{"ods"}, "ODS", {{List, 1}}},
        {{"json"}, "JSON", {{List, 3}, {Export, 2}}},
        {{"png"}, "PNG", {{Shaded, 1}}},
    };
    return all;
}

int rankOf(const Format& f, FormatUse use) {
    for (const auto& o : f.offers)
        if (o.use == use) return o.rank;
    return 0;
}

std::vector<const Format*> offered(FormatUse use) {
    std::vector<const Format*> out;
    for (const Format& f : table())
        if (rankOf(f, use) > 0) out.push_back(&f);
    std::sort(out.begin(), out.end(),
              [&](const Format* a, const Format* b) { return rankOf(*a, use) < rankOf(*b, use); });
    return out;
}

/// "a, b or c", each once.
std::string listed(const std::vector<std::string>& words) {
    std::vector<std::string> once;
    for (const auto& w : words)
        if (std::find(once.begin(), once.end(), w) == once.end()) once.push_back(w);
    std::string out;
    for (size_t i = 0; i < once.size(); ++i) out += (i > 0 ? (i + 1 < once.size() ? ", " : " or ") : "") + once[i];
    return out;
}

} // namespace

const Format* formatOf(const std::string& ending) {
    for (const Format& f : table())
        for (const char* e : f.endings)
            if (ending == e) return &f;
    return nullptr;
}

const Format* formatOfFile(const std::string& name) {
    const size_t dot = name.find_last_of("./\\");
    return dot == name.npos || name[dot] != '.' ? nullptr : formatOf(text::lowered(name.substr(dot + 1)));
}

bool isFor(const Format* f, FormatUse use) { return f && rankOf(*f, use) > 0; }

std::span<const char* const> formatsFor(FormatUse use) {
    static const auto all = [] {
        std::array<std::vector<const char*>, kFormatUses> out;
        for (int k = 0; k < kFormatUses; ++k)
            for (const Format* f : offered(FormatUse(k))) out[size_t(k)].push_back(f->endings[0]);
        return out;
    }();
    return all[size_t(use)];
}

std::string endingsFor(FormatUse use) {
    std::vector<std::string> all;
    for (const Format* f : offered(use))
        for (const char* e : f->endings) all.push_back(std::string(".") + e);
    return listed(all);
}

std::string labelsFor(FormatUse use) {
    std::vector<std::string> all;
    for (const Format* f : offered(use)) all.emplace_back(f->label);
    return listed(all);
}

std::string patternsFor(std::initializer_list<FormatUse> uses) {
    std::string out;
    std::vector<const char*> seen;
    for (const FormatUse use : uses)
        for (const Format* f : offered(use))
            for (const char* e : f->endings)
                if (std::find(seen.begin(), seen.end(), e) == seen.end()) {
                    out += (out.empty() ? "*." : " *.") + std::string(e);
                    seen.push_back(e);
                }
    return out;
}

} // namespace vicinal
