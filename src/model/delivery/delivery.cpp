#include "model/delivery/delivery.h"
#include "model/delivery/formats.h"
#include <algorithm>

namespace vicinal {

bool counts(const TemplateOrder& t, const std::string& key) {
    const bool places = t.of == TemplateOf::Places;
    if (key == "plane" || key == "numbers" || key == "noses" || key == "paths") return places;
    if (key == "normal") return places && t.plane == TemplatePlane::Face;
    if (key == "roll") return t.paper == Paper::Roll;
    if (key == "landscape") return t.paper != Paper::Roll;
    return true;
}

bool counts(const TapeOrder&, const std::string&) { return true; }

bool counts(const DrawingOrder& d, const std::string& key) {
    if (key == "heading" || key == "pitch") return d.oblique;
    return true;
}

bool counts(const SolidsOrder& s, const std::string& key) { return key != "paths" || s.as == SolidsAs::Assembly; }

bool counts(const ScheduleOrder& s, const std::string& key) {
    if (key == "of") return true;
    if (s.of == ScheduleOf::Places) return true;
    return s.of == ScheduleOf::Running && (key == "part" || key == "gap");
}

bool counts(const PictureOrder& p, const std::string& key) {
    const bool lines = p.of == PictureOf::Lines;
    if (key == "frames") return p.of == PictureOf::Turntable;
    if (key == "grid" || key == "background" || key == "soft" || key == "parallel") return !lines;
    return true;
}

std::span<const char* const> formatsOf(const SendOrder& order) {
    struct Use {
        FormatUse operator()(const TemplateOrder&) const { return FormatUse::Paper; }
        FormatUse operator()(const TapeOrder&) const { return FormatUse::Tape; }
        FormatUse operator()(const DrawingOrder&) const { return FormatUse::Paper; }
        FormatUse operator()(const SolidsOrder& s) const {
            return s.as == SolidsAs::Assembly ? FormatUse::Solids : FormatUse::Bodies;
        }
        FormatUse operator()(const ScheduleOrder&) const { return FormatUse::List; }
        FormatUse operator()(const PictureOrder& p) const {
            return p.of == PictureOf::Lines ? FormatUse::Lines : FormatUse::Shaded;
        }
    };
    return formatsFor(std::visit(Use(), order));
}

std::string fileNameOf(const Delivery& d) {
    std::string out;
    for (char c : d.name)
        out +=
            static_cast<unsigned char>(c) < 0x20 || std::string("/\\:*?\"<>|").find(c) != std::string::npos ? '_' : c;
    if (out.empty() || out.front() == '.') out.insert(0, "_");
    size_t end = std::min<size_t>(out.size(), 200);
    while (end < out.size() && end > 0 && (static_cast<unsigned char>(out[end]) & 0xC0) == 0x80)
        --end; // no half letter
    return out.substr(0, end) + "." + d.format;
}

} // namespace vicinal
