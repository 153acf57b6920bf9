// Heaps and deliveries in document.json.
#include "model/delivery/delivery.h"
#include "model/document/heap.h"
#include "model/file/json/document_json.h"
#include <cmath>
#include <nlohmann/json.hpp>

namespace vicinal {

namespace {

constexpr double kGrains = 1e15; ///< in one: so fine are the numbers of a quaternion in a file

Quat quaternionOf(const Mat3& axes) {
    Quat q(axes);
    for (double& v : q.coeffs()) v = std::round(v * kGrains) / kGrains + 0.0; // no -0
    for (const double first : {q.w(), q.x(), q.y(), q.z()}) // of the two that are one turn always the same
        if (first != 0) {
            if (first < 0)
                for (double& v : q.coeffs()) v = 0.0 - v;
            break;
        }
    return q;
}

/// Axes as a unit quaternion that is the same to the last digit when it is read and written again: a file that is
/// opened and saved stays as it is. Rounding takes nearly all of them there at once; what it leads round in a circle is
/// nudged by its last digit.
Quat keptTurn(const Mat3& axes) {
    Quat q = quaternionOf(axes);
    for (int round = 0; round < 300; ++round) {
        const Quat again = quaternionOf(q.normalized().toRotationMatrix());
        if (again.coeffs() == q.coeffs()) break;
        q = again;
        if (round % 4 == 3) q.coeffs()[round / 4 % 4] += (1 + round / 16) / kGrains;
    }
    return q;
}

} // namespace

Json heapJson(const HeapItem& h) {
    Json parts = Json::array();
    for (const Loose& l : h.parts) {
        const Quat q = keptTurn(l.frame.axes);
        Json one = {{"part", l.part}, {"at", vec(l.frame.seat)}, {"turn", {q.w(), q.x(), q.y(), q.z()}}};
        if (l.size != 1) one["size"] = l.size;
        if (l.place != 0) one["place"] = l.place;
        parts.push_back(std::move(one));
    }
    Json j = {{"id", h.id}, {"name", h.name}, {"colour", h.colour}};
    if (h.frozen) j["frozen"] = true;
    if (h.hidden) j["hidden"] = true;
    putKept(j, h);
    j["parts"] = std::move(parts);
    return j;
}

HeapItem heapFromJson(const Json& j, const std::string& where) {
    HeapItem h;
    h.id = JsonReader::id(j, where, "id");
    h.name = JsonReader::word(j, where, "name");
    if (j.contains("colour")) h.colour = JsonReader::id(j, where, "colour");
    if (j.contains("frozen")) h.frozen = JsonReader::yes(j, where, "frozen");
    if (j.contains("hidden")) h.hidden = JsonReader::yes(j, where, "hidden");
    readKept(j, where, h);
    for (const Json& one : JsonReader::list(j, where, "parts")) {
        Loose l;
        l.part = JsonReader::id(one, where, "part");
        l.frame.seat = JsonReader::vector(JsonReader::member(one, where, "at"), where);
        if (one.contains("turn")) {
            const auto q = JsonReader::numbers(one["turn"], where);
            double norm = 0;
            for (double v : q) norm += v * v;
            if (q.size() != 4 || !(std::abs(norm - 1) < tolerance::alike))
                JsonReader::fail(where, "needs a unit quaternion for \"turn\"");
            l.frame.axes = Quat(q[0], q[1], q[2], q[3]).normalized().toRotationMatrix();
        }
        if (one.contains("size")) l.size = JsonReader::number(one, where, "size");
        if (one.contains("place")) l.place = JsonReader::id(one, where, "place");
        h.parts.push_back(std::move(l));
    }
    return h;
}

Json deliveryJson(const Delivery& d) {
    Json j = {{"id", d.id}, {"name", d.name}, {"as", wordsOf(d.order).file}, {"format", d.format}};
    if (!d.what.empty()) j["what"] = d.what;
    if (!d.folder.empty()) j["folder"] = d.folder;
    Json values = Json::object();
    std::visit([&](const auto& order) { writeValues(values, order); }, d.order);
    j["values"] = std::move(values);
    for (const auto& [name, text] : d.fields) j["fields"].push_back({name, text});
    return j;
}

Delivery deliveryFromJson(const Json& j, const std::string& where) {
    Delivery d;
    d.id = JsonReader::id(j, where, "id");
    d.name = JsonReader::word(j, where, "name");
    const std::string kind = JsonReader::word(j, where, "as");
    auto order = ruleNamed<SendOrder>(kind);
    if (!order) JsonReader::fail(where, "has \"" + kind + "\" for \"as\", which is not known");
    d.order = std::move(*order);
    if (j.contains("values")) std::visit([&](auto& o) { readValues(j["values"], where, o); }, d.order);
    const auto formats = formatsOf(d.order);
    d.format = j.contains("format") ? JsonReader::word(j, where, "format") : formats[0];
    if (std::none_of(formats.begin(), formats.end(), [&](const char* f) { return d.format == f; }))
        JsonReader::fail(where, "has \"" + d.format + "\" for \"format\", which a " + kind + " is not written as");
    if (j.contains("what"))
        for (const Json& id : JsonReader::list(j, where, "what")) {
            if (!id.is_number_integer() || id.get<long>() < 1 || id.get<long>() > kLargestId)
                JsonReader::fail(where, "needs ids in \"what\"");
            d.what.push_back(id.get<int>());
        }
    if (j.contains("folder")) d.folder = JsonReader::word(j, where, "folder");
    if (j.contains("fields"))
        for (const Json& f : JsonReader::list(j, where, "fields")) {
            if (!f.is_array() || f.size() != 2 || !f[0].is_string() || !f[1].is_string())
                JsonReader::fail(where, "needs pairs of texts in \"fields\"");
            d.fields.emplace_back(f[0].get<std::string>(), f[1].get<std::string>());
        }
    return d;
}

} // namespace vicinal
