// The places of a STEP file, written by hand behind the shapes that OpenCASCADE wrote: its own writer takes
// some thirty times as long and a fifth more room for many thousand equal parts.
#include "base/text.h"
#include "exchange/step/scene.h"
#include <charconv>
#include <map>
#include <set>
#include <unordered_map>

namespace vicinal {
namespace {

/// A text of the file: quotes doubled, what is not ASCII as \X2\.
std::string stepText(const std::string& s) {
    std::string out = "'";
    for (size_t i = 0; i < s.size();) {
        const auto c = static_cast<unsigned char>(s[i]);
        if (c < 0x80) {
            if (c == '\'')
                out += "''";
            else if (c == '\\')
                out += "\\\\";
            else
                out += c < 0x20 ? ' ' : char(c);
            ++i;
            continue;
        }
        const int more = int(c >= 0xC0) + int(c >= 0xE0) + int(c >= 0xF0);
        unsigned code = more == 0 ? 0xFFFD : c & (0x3Fu >> more);
        ++i;
        for (int k = 0; k < more; ++k, ++i) {
            if (i >= s.size() || (static_cast<unsigned char>(s[i]) & 0xC0) != 0x80) {
                code = 0xFFFD;
                break;
            }
            code = code << 6 | (static_cast<unsigned char>(s[i]) & 0x3Fu);
        }
        char hex[24];
        std::snprintf(hex, sizeof hex, code > 0xFFFF ? "\\X4\\%08X\\X0\\" : "\\X2\\%04X\\X0\\", code);
        out += hex;
    }
    return out + "'";
}

/// The records of the data section by their number; only those that hold a product together are kept.
struct Bare {
    std::map<long, std::string> records; ///< "PRODUCT('v0v',...)"
    std::set<long> axes;                 ///< AXIS2_PLACEMENT_3D
    long last = 0;
    size_t end = 0; ///< of the last record in the text
};

Bare recordsOf(const std::string& text) {
    static const char* const kWanted[] = {"PRODUCT(",
                                          "PRODUCT_DEFINITION_FORMATION(",
                                          "PRODUCT_DEFINITION(",
                                          "PRODUCT_DEFINITION_SHAPE(",
                                          "SHAPE_DEFINITION_REPRESENTATION(",
                                          "SHAPE_REPRESENTATION("};
    Bare out;
    size_t at = text.find("DATA;");
    if (at == std::string::npos) return out;
    at += 5;
    const auto skip = [&](size_t i) { // behind the ';' that ends a record, over texts
        bool quoted = false;
        for (; i < text.size(); ++i) {
            if (text[i] == '\'') quoted = !quoted;
            if (text[i] == ';' && !quoted) return i + 1;
        }
        return text.size();
    };
    while (at < text.size()) {
        while (at < text.size() && std::isspace(static_cast<unsigned char>(text[at]))) ++at;
        if (at >= text.size() || text[at] != '#') break;
        long number = 0;
        const auto [p, bad] = std::from_chars(text.data() + at + 1, text.data() + text.size(), number);
        const size_t end = skip(at);
        if (bad == std::errc()) {
            size_t body = size_t(p - text.data());
            while (body < end && (text[body] == ' ' || text[body] == '=')) ++body;
            out.last = std::max(out.last, number);
            if (text.compare(body, 19, "AXIS2_PLACEMENT_3D(") == 0) out.axes.insert(number);
            // Also every kind of shape representation, by the end of its word.
            const std::string word = text.substr(body, std::min<size_t>(80, text.find('(', body) - body + 1));
            for (const char* w : kWanted)
                if (word == w || (std::string_view(w) == "SHAPE_REPRESENTATION(" && word.ends_with(w))) {
                    std::string record;
                    for (size_t k = body; k + 1 < end; ++k)
                        if (text[k] != '\n' && text[k] != '\r') record += text[k];
                    out.records.emplace(number, std::move(record));
                    break;
                }
        }
        at = out.end = end;
    }
    return out;
}

/// The references of a record, in order.
std::vector<long> references(const std::string& record) {
    std::vector<long> out;
    bool quoted = false;
    for (size_t i = 0; i < record.size(); ++i) {
        if (record[i] == '\'') quoted = !quoted;
        if (quoted || record[i] != '#') continue;
        long n = 0;
        std::from_chars(record.data() + i + 1, record.data() + record.size(), n);
        out.push_back(n);
    }
    return out;
}

struct Product {
    long definition = 0, representation = 0;
    long origin = 0; ///< of its own axes, one of the representation's items
};

class Assembly {
public:
    Assembly(std::string& out, long last) : m_out(out), m_last(last) {}
    long put(const std::string& record) {
        m_out += "#";
        m_out += std::to_string(++m_last);
        m_out += "=";
        m_out += record;
        m_out += ";\n";
        return m_last;
    }
    static std::string ref(long n) { return "#" + std::to_string(n); }

    long direction(const Vec3& d) {
        // 12 decimals: a site of a kilometre still closes within a thousandth of a micrometre.
        const std::string text =
            "DIRECTION('',(" + real(d.x(), 12) + "," + real(d.y(), 12) + "," + real(d.z(), 12) + "))";
        // Straight rows and chains have a few of them, over and over; a spiral has none twice.
        if (const auto known = m_directions.find(text); known != m_directions.end()) return known->second;
        const long made = put(text);
        if (m_directions.size() < 4096) m_directions.emplace(text, made);
        return made;
    }
    long placement(const Mat4& pose) {
        const Vec3 t = pose.topRightCorner<3, 1>();
        const long at =
            put("CARTESIAN_POINT('',(" + real(t.x(), 9) + "," + real(t.y(), 9) + "," + real(t.z(), 9) + "))");
        const long z = direction(pose.col(2).head<3>()), x = direction(pose.col(0).head<3>());
        return put("AXIS2_PLACEMENT_3D('',#" + std::to_string(at) + "," + ref(z) + "," + ref(x) + ")");
    }
    static std::string real(double v, int decimals) {
        std::string s = text::number(v, decimals);
        if (s.find('.') == std::string::npos) s += ".";
        return s;
    }

private:
    std::string& m_out;
    long m_last;
    std::unordered_map<std::string, long> m_directions;
};

/// What the library wrote of the shapes: their products, under which names they are to stand, and their contexts.
struct Kept {
    std::vector<Product> products;
    std::map<long, std::string> renamed; ///< records of products
    long definitionContext = 0, productContext = 0;
};

/// From products to what stands for them: product <- formation <- definition <- shape <- representation. Nothing where
/// one of them is not there.
std::optional<Kept> keptOf(const Bare& found, const StepScene& scene) {
    const size_t shapes = scene.shapes.size(), all = shapes + scene.wires.size();
    Kept out;
    out.products.resize(all);
    std::map<long, size_t> byRecord;
    const auto starts = [](const std::string& s, const char* w) { return s.starts_with(w); };
    for (const auto& [n, r] : found.records) {
        if (!starts(r, "PRODUCT(")) continue;
        const size_t from = r.find("'v"), to = r.find("v'", from == std::string::npos ? 0 : from + 2);
        if (from == std::string::npos || to == std::string::npos) continue;
        size_t k = 0;
        std::from_chars(r.data() + from + 2, r.data() + to, k);
        if (k >= all) return std::nullopt;
        byRecord[n] = k;
        const auto refs = references(r);
        if (!refs.empty()) out.productContext = refs.back();
        const std::string name = stepText(k < shapes ? scene.shapes[k].name : scene.wires[k - shapes].name);
        out.renamed[n] =
            "PRODUCT(" + name + "," + name + ",'',(" + (refs.empty() ? "" : "#" + std::to_string(refs.back())) + "))";
    }
    for (const char* kind : {"PRODUCT_DEFINITION_FORMATION(", "PRODUCT_DEFINITION(", "PRODUCT_DEFINITION_SHAPE(",
                             "SHAPE_DEFINITION_REPRESENTATION("})
        for (const auto& [n, r] : found.records) {
            if (!starts(r, kind)) continue;
            const auto refs = references(r);
            if (refs.empty()) continue;
            const auto of = byRecord.find(refs[0]);
            if (of == byRecord.end()) continue;
            byRecord[n] = of->second;
            if (starts(r, "PRODUCT_DEFINITION(")) {
                out.products[of->second].definition = n;
                if (refs.size() > 1) out.definitionContext = refs[1];
            }
            if (starts(r, "SHAPE_DEFINITION_REPRESENTATION(") && refs.size() > 1)
                out.products[of->second].representation = refs[1];
        }
    for (Product& p : out.products) {
        const auto record = found.records.find(p.representation);
        if (record != found.records.end())
            for (long item : references(record->second))
                if (p.origin == 0 && found.axes.count(item)) p.origin = item;
        if (p.definition == 0 || p.representation == 0 || p.origin == 0) return std::nullopt;
    }
    if (out.definitionContext == 0 || out.productContext == 0 || found.end == 0) return std::nullopt;
    return out;
}

/// What is there, with the products renamed. False where one of them is not found.
bool copyRenamed(const StepBare& bare, const Bare& found, const Kept& kept, std::string& out) {
    size_t at = 0;
    for (const auto& [n, record] : kept.renamed) {
        const std::string head = "\n#" + std::to_string(n) + " ";
        const size_t from = bare.find(head, at) != std::string::npos ? bare.find(head, at)
                                                                     : bare.find("\n#" + std::to_string(n) + "=", at);
        if (from == std::string::npos) return false;
        out.append(bare, at, from + 1 - at);
        out += "#" + std::to_string(n) + "=" + record + ";";
        bool quoted = false;
        size_t k = from;
        for (; k < bare.size(); ++k) {
            if (bare[k] == '\'') quoted = !quoted;
            if (bare[k] == ';' && !quoted) break;
        }
        at = k + 1;
    }
    out.append(bare, at, found.end - at);
    out += "\n";
    return true;
}

/// One of those that a product is made of.
struct AssemblyPart {
    const Product* of;
    const Mat4* pose; ///< null: where it is
    const std::string* name;
};

/// Products of others, each at its pose.
class Whole : public Assembly {
public:
    Whole(std::string& out, const Bare& found, const Kept& kept) : Assembly(out, found.last), m_kept(kept) { units(); }
    Product product(const std::string& name, const std::vector<AssemblyPart>& children) {
        const std::string text = stepText(name);
        const long p = put("PRODUCT(" + text + "," + text + ",'',(" + ref(m_kept.productContext) + "))");
        put("PRODUCT_RELATED_PRODUCT_CATEGORY('part',$,(" + ref(p) + "))");
        const long formation = put("PRODUCT_DEFINITION_FORMATION('','',#" + std::to_string(p) + ")");
        Product made;
        made.origin = m_origin;
        made.definition =
            put("PRODUCT_DEFINITION('design',''," + ref(formation) + "," + ref(m_kept.definitionContext) + ")");
        std::vector<long> stands;
        stands.reserve(children.size());
        std::string items = ref(m_origin);
        for (const AssemblyPart& c : children) {
            stands.push_back(c.pose ? placement(*c.pose) : m_origin);
            if (c.pose) items += "," + ref(stands.back());
        }
        made.representation = put("SHAPE_REPRESENTATION('',(" + items + ")," + ref(m_context) + ")");
        const long shape = put("PRODUCT_DEFINITION_SHAPE('','',#" + std::to_string(made.definition) + ")");
        put("SHAPE_DEFINITION_REPRESENTATION(" + ref(shape) + "," + ref(made.representation) + ")");
        for (size_t k = 0; k < children.size(); ++k) {
            const AssemblyPart& c = children[k];
            const long move =
                put("ITEM_DEFINED_TRANSFORMATION('',''," + ref(c.of->origin) + "," + ref(stands[k]) + ")");
            const long related = put("(REPRESENTATION_RELATIONSHIP('',''," + ref(c.of->representation) + "," +
                                     ref(made.representation) + ")REPRESENTATION_RELATIONSHIP_WITH_TRANSFORMATION(" +
                                     ref(move) + ")SHAPE_REPRESENTATION_RELATIONSHIP())");
            const std::string id = std::to_string(++m_counter);
            const long used = put("NEXT_ASSEMBLY_USAGE_OCCURRENCE('" + id + "'," + stepText(*c.name) + ",''," +
                                  ref(made.definition) + "," + ref(c.of->definition) + ",$)");
            const long place = put("PRODUCT_DEFINITION_SHAPE('','',#" + std::to_string(used) + ")");
            put("CONTEXT_DEPENDENT_SHAPE_REPRESENTATION(" + ref(related) + "," + ref(place) + ")");
        }
        return made;
    }

private:
    /// Millimetres, radians, and how exact: the same for all of it.
    void units() {
        const long mm = put("(LENGTH_UNIT()NAMED_UNIT(*)SI_UNIT(.MILLI.,.METRE.))"),
                   rad = put("(NAMED_UNIT(*)PLANE_ANGLE_UNIT()SI_UNIT($,.RADIAN.))"),
                   sr = put("(NAMED_UNIT(*)SI_UNIT($,.STERADIAN.)SOLID_ANGLE_UNIT())"),
                   close = put("UNCERTAINTY_MEASURE_WITH_UNIT(LENGTH_MEASURE(1.E-6)," + ref(mm) +
                               ",'distance_accuracy_value','')"),
                   made = put("(GEOMETRIC_REPRESENTATION_CONTEXT(3)GLOBAL_UNCERTAINTY_ASSIGNED_CONTEXT((" + ref(close) +
                              "))GLOBAL_UNIT_ASSIGNED_CONTEXT((" + ref(mm) + "," + ref(rad) + "," + ref(sr) +
                              "))REPRESENTATION_CONTEXT('',''))");
        m_origin = placement(Mat4::Identity());
        m_context = made;
    }
    const Kept& m_kept;
    long m_origin = 0, m_context = 0, m_counter = 0;
};

/// Who wrote it, in place of the library's placeholders; when is kept as it stands there.
void sign(std::string& out, const std::string& name) {
    const size_t head = out.find("FILE_DESCRIPTION("), schema = out.find("FILE_SCHEMA(");
    const size_t time = out.find("',", out.find("FILE_NAME("));
    if (head != std::string::npos && schema != std::string::npos && head < time && time < schema) {
        const size_t from = out.find('\'', time + 2), to = out.find('\'', from + 1);
        const std::string when = out.substr(from, to + 1 - from);
        out.replace(head, schema - head,
                    "FILE_DESCRIPTION(('Rigid parts placed along paths'),'2;1');\nFILE_NAME(" + stepText(name) + "," +
                        when + ",(''),(''),'OpenCASCADE','Vicinal','');\n");
    }
}

} // namespace

/// Idea: the library writes each shape once, as a product of its own whose name is a number; that text is kept,
/// products are renamed, and behind its last record stand by hand what it would take half a minute for: a product for
/// the whole and one a run, and for every place a next assembly usage, its two axes and the transformation between them
/// (ISO 10303-44). Invariant: records only refer to records that are there; directions that are alike are written
/// once. O(places).
Result<std::string> assembled(const StepScene& scene, const StepBare& bare, const Stop* stop) {
    const Problem bad{"The shapes could not be written as STEP.", "file"};
    const Bare found = recordsOf(bare);
    const auto kept = keptOf(found, scene);
    if (!kept || kept->definitionContext == 0 || kept->productContext == 0 || found.end == 0) return bad;
    std::string out;
    size_t places = 0;
    for (const auto& g : scene.groups) places += g.instances.size();
    out.reserve(bare.size() + 600 * places + 4096);
    if (!copyRenamed(bare, found, *kept, out)) return bad;
    Whole whole(out, found, *kept);
    std::vector<Product> groups(scene.groups.size());
    std::vector<AssemblyPart> top;
    for (size_t g = 0; g < scene.groups.size(); ++g) {
        if (stopped(stop)) return Problem{"Sending out was cancelled; the file is as it was.", ""};
        std::vector<AssemblyPart> children;
        for (const StepInstance& i : scene.groups[g].instances)
            children.push_back({&kept->products[i.shape], &i.pose, &i.name});
        groups[g] = whole.product(scene.groups[g].name, children);
        top.push_back({&groups[g], nullptr, &scene.groups[g].name});
    }
    for (size_t w = 0; w < scene.wires.size(); ++w)
        top.push_back({&kept->products[scene.shapes.size() + w], nullptr, &scene.wires[w].name});
    whole.product(scene.name, top);
    out += "ENDSEC;\nEND-ISO-10303-21;\n";
    sign(out, scene.name);
    return out;
}

} // namespace vicinal
