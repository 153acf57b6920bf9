// The checks of a run in document.json.
#include "clearance/check.h"
#include "model/file/json/document_json.h"
#include <nlohmann/json.hpp>

namespace vicinal {

Json checkJson(const Check& c) {
    Json j = {{"check", wordsOf(c.of).file}, {"on", c.on}};
    if (c.least) j["least"] = *c.least;
    if (c.most) j["most"] = *c.most;
    if (c.margin != 0) j["margin"] = c.margin;
    if (c.other != 0) j["other"] = c.other;
    if (c.from != 0 || c.to != 0) {
        j["from"] = c.from;
        j["to"] = c.to;
    }
    for (const Excuse& e : c.excused) {
        Json one = Json::object();
        for (const auto& [key, v] : {std::pair{"place", e.place},
                                     {"otherPlace", e.other},
                                     {"part", int(e.part)},
                                     {"otherPart", int(e.otherPart)}})
            if (v != 0) one[key] = v;
        for (const auto& [key, text] : {std::pair{"why", &e.why}, {"by", &e.by}, {"on", &e.on}})
            if (!text->empty()) one[key] = *text;
        j["excused"].push_back(std::move(one));
    }
    return j;
}

Check checkFromJson(const Json& j, const std::string& where) {
    using R = JsonReader;
    Check c;
    const std::string word = R::word(j, where, "check");
    const auto of = checkNamed(word);
    if (!of) R::fail(where, "has a check \"" + word + "\", which is not known");
    c.of = *of;
    if (j.contains("on")) c.on = R::yes(j, where, "on");
    if (j.contains("least")) c.least = R::number(j, where, "least");
    if (j.contains("most")) c.most = R::number(j, where, "most");
    if (j.contains("margin")) c.margin = R::number(j, where, "margin");
    if (j.contains("other")) c.other = R::id(j, where, "other");
    if (j.contains("from")) c.from = R::number(j, where, "from");
    if (j.contains("to")) c.to = R::number(j, where, "to");
    if (!j.contains("excused")) return c;
    for (const auto& one : R::list(j, where, "excused")) {
        if (!one.is_object()) R::fail(where, "has an excuse that is none");
        Excuse e;
        if (one.contains("place")) e.place = R::id(one, where, "place");
        if (one.contains("otherPlace")) e.other = R::id(one, where, "otherPlace");
        if (one.contains("part")) e.part = R::id(one, where, "part");
        if (one.contains("otherPart")) e.otherPart = R::id(one, where, "otherPart");
        if (one.contains("why")) e.why = R::word(one, where, "why");
        if (one.contains("by")) e.by = R::word(one, where, "by");
        if (one.contains("on")) e.on = R::word(one, where, "on");
        c.excused.push_back(std::move(e));
    }
    return c;
}

} // namespace vicinal
