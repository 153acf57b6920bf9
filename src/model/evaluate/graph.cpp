// The order in which things are worked out.
#include "model/evaluate/graph.h"
#include "base/say.h"
#include "layout/spacing/rules.h"
#include "model/document/body_item.h"
#include "model/document/part_item.h"
#include "model/document/path_item.h"
#include "model/document/run_item.h"
#include "model/evaluate/bodies/site.h"
#include "model/evaluate/bodies/wheel_bodies.h"
#include "model/evaluate/run_order.h"
#include "parts/makers/maker.h"
#include <algorithm>

namespace vicinal {

void Graph::workOut(Id id) {
    if (!exists(id) || done(id)) return;
    open(id);
    while (!m_stack.empty()) {
        Frame& top = m_stack.back();
        if (top.next == top.sources.size()) {
            const Frame frame = std::move(top);
            m_stack.pop_back();
            m_open.erase(frame.id);
            if (m_pathItems.count(frame.id))
                finishPath(frame);
            else if (m_partItems.count(frame.id))
                finishPart(frame);
            else if (m_bodyItems.count(frame.id))
                finishBody(frame);
            else
                finishRun(frame);
            m_work.step();
            continue;
        }
        const Id source = top.sources[top.next++];
        if (m_open.count(source))
            top.circle = circleTo(source, top.id);
        else if (exists(source) && !done(source))
            open(source);
    }
}

bool Graph::exists(Id id) const {
    return m_pathItems.count(id) || m_partItems.count(id) || m_bodyItems.count(id) || m_runItems.count(id);
}

bool Graph::done(Id id) const {
    return m_out.paths.count(id) || m_out.parts.count(id) || m_out.bodies.count(id) || m_runs.count(id);
}

void Graph::open(Id id) {
    Frame frame{id, {}};
    if (const auto path = lookUp(m_pathItems, id)) {
        frame.sources = sourcesOf(path->recipe);
        if (const Id body = bodyOf(path->recipe)) frame.sources.push_back(body);
        for (Id part : wheelParts(path->recipe)) frame.sources.push_back(part);
        if (const auto giver = lookUp(m_givers, id)) {
            for (Id part : partsOf(*giver)) frame.sources.push_back(part);
            if (movesAlong(*giver)) frame.sources.push_back(giver->gives.along);
        }
    } else if (const auto part = lookUp(m_partItems, id)) {
        frame.sources = sourcesOf(part->shape);
        for (Id under : part->under)
            if (under != 0) frame.sources.push_back(under);
    } else if (const auto body = lookUp(m_bodyItems, id)) {
        frame.sources = sourcesOf(body->shape);
    } else {
        const auto r = lookUp(m_runItems, id);
        frame.sources = partsOf(*r);
        frame.sources.push_back(r->path);
        if (aimsAtPath(*r)) frame.sources.push_back(r->facing.targetPath);
        if (r->spacing->bays == BayEdges::Run) frame.sources.push_back(r->spacing->bayRun);
        for (Id asked : bodiesOf(*r)) frame.sources.push_back(asked);
    }
    m_open.insert(id);
    m_stack.push_back(std::move(frame));
}

std::array<Id, 3> Graph::bodiesOf(const RunItem& r) const {
    auto out = bodiesAsked(r);
    if (!standsOff(r) || out[1] != 0) return out;
    Id path = r.path;
    for (int steps = 0; steps < 100 && out[1] == 0; ++steps) { // laid, then lifted, then a stretch of that...
        const auto item = lookUp(m_pathItems, path);
        if (!item) break;
        if (const Id body = bodyOf(item->recipe); m_bodyItems.count(body)) out[1] = body;
        const auto sources = sourcesOf(item->recipe);
        if (sources.empty()) break;
        path = sources.front();
    }
    if (out[1] == 0) out[1] = r.feet.ground;
    return out;
}

std::string Graph::nameOf(Id id) const {
    if (const auto p = lookUp(m_pathItems, id)) return p->name;
    if (const auto q = lookUp(m_partItems, id)) return q->name;
    if (const auto b = lookUp(m_bodyItems, id)) return b->name;
    const auto r = lookUp(m_runItems, id);
    return r ? r->name : std::string();
}

const char* Graph::kindOf(Id id) const {
    if (m_pathItems.count(id)) return "path";
    if (m_partItems.count(id)) return "part";
    return m_bodyItems.count(id) ? "body" : "run";
}

const char* Graph::verbOf(Id from, Id to) const {
    if (m_runItems.count(from) && m_runItems.count(to)) return " lies between ";
    if (m_runItems.count(from)) return m_bodyItems.count(to) ? " asks " : " follows ";
    if (m_bodyItems.count(from)) return m_runItems.count(to) ? " is made by " : " is made from ";
    return m_partItems.count(from) ? " uses " : " follows ";
}

Problem Graph::circleTo(Id source, Id from) const {
    const std::string kind = kindOf(from);
    const bool isPath = kind == "path", isRun = kind == "run";
    if (source == from && isRun)
        return {"The bays of this run lie between its own places. Choose another run.", "bayRun"};
    const char* field = isPath ? "source" : "piece";
    if (isPath && m_partItems.count(source)) field = "part";
    if (isRun) field = m_runItems.count(source) ? "bayRun" : "path";
    if (kind == "body") field = m_runItems.count(source) ? "run" : "of";
    if (const auto part = lookUp(m_partItems, from);
        part && std::find(part->under.begin(), part->under.end(), source) != part->under.end())
        return {Words("This part stands on itself") + (source == from ? "" : ", by what it stands on") +
                    ". Let it stand on the path, or on another part.",
                "under"};
    Words text = "This ";
    text += say::value(kind);
    if (source == from && !isPath) {
        text += " contains itself. Take that piece out.";
        return {text, field};
    }
    text += " goes round in a circle: ";
    auto at = std::find_if(m_stack.begin(), m_stack.end(), [&](const Frame& f) { return f.id == source; });
    for (int n = 0; at != m_stack.end(); ++at, ++n) {
        if (n == 6) {
            text += "... ";
            break;
        }
        text += text::quoted(nameOf(at->id));
        text += verbOf(at->id, at + 1 == m_stack.end() ? source : (at + 1)->id);
    }
    text += text::quoted(nameOf(source));
    text += ". Let one of them be made from something else.";
    return {text, field};
}

} // namespace vicinal
