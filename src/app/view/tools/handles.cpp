// What can be dragged on a path: its points and their handles, the points of its recipe, wheels, insets.
#include "app/view/tools/handles.h"
#include "app/controls/format.h"
#include "app/dialogs/profile_keys.h"
#include "layout/along/typed.h"
#include "layout/spacing/rules.h"
#include "model/document/body_item.h"
#include "model/document/heap.h"
#include "model/document/path_item.h"
#include "model/document/run_item.h"
#include "model/edits/release.h"
#include "model/evaluate/bodies/wheel_bodies.h"
#include <cmath>

namespace vicinal {
namespace {

/// Points among a recipe's values, or one of them put back.
struct PointValues : IgnoreValues {
    std::vector<std::pair<const char*, Vec3>> all;
    void point(const char*, const char* label, const char*, const Vec3& v) { all.push_back({label, v}); }
};

struct PutPoint : IgnoreValues {
    int left;
    Vec3 to;
    PutPoint(int index, const Vec3& p) : left(index), to(p) {}
    void point(const char*, const char*, const char*, Vec3& v) {
        if (left-- == 0) v = to;
    }
};

/// A point of a run's rules.
Vec3& runPoint(RunItem& r, int which) {
    if (which == 0) return r.facing.target;
    return which == 1 ? r.echoes.one.at : r.echoes.two.at;
}

/// More than this are changed in their lane.
constexpr size_t kMostKeys = 60;

const WheelShape* wheelsOf(const ShapeRecipe* r) { return r ? std::get_if<WheelShape>(&r->shape) : nullptr; }

} // namespace

std::vector<Handle> handlesOf(const Store& store) {
    std::vector<Handle> out;
    using Kind = Handle::Kind;
    const auto& chosen = store.selection().places;
    if (const auto heap = heapInHand(store); heap && !heap->item->frozen && !chosen.empty()) {
        Vec3 middle = Vec3::Zero();
        for (int i : chosen)
            if (size_t(i) < heap->item->parts.size())
                middle += heap->item->parts[size_t(i)].frame.seat / double(chosen.size());
        out.push_back({Kind::Loose, 0, middle});
    }
    if (const auto body = store.currentBody(); body && body->ground && body->body && !body->item->locked) {
        const Box3& box = body->body->mesh->box;
        const Vec3 foot(box.center().x(), box.center().y(), box.min().z());
        const auto at = [&](const Vec3& p) { return Vec3(body->ground->turn() * p + body->ground->origin()); };
        const Vec3 half = box.sizes() / 2;
        out.push_back({Kind::BodyMove, 0, at(foot)});
        out.push_back({Kind::BodyTurn, 0, at(foot + Vec3(half.x() + 0.2 * half.head<2>().maxCoeff(), 0, 0))});
        out.push_back({Kind::BodySize, 0, at(foot + Vec3(half.x(), half.y(), 0))});
    }
    const auto path = store.currentPath();
    if (!path) return out;
    if (const auto* r = editablePoints(*path->item)) {
        for (int i = 0; i < int(r->points.size()); ++i) {
            const auto& q = r->points[size_t(i)];
            if (q.via) out.push_back({Kind::Via, i, *q.via});
            if (q.in) out.push_back({Kind::In, i, q.at + *q.in});
            if (q.out) out.push_back({Kind::Out, i, q.at + *q.out});
            out.push_back({Kind::Point, i, q.at});
        }
    } else {
        PointValues values;
        describe(values, path->item->recipe);
        for (int i = 0; i < int(values.all.size()); ++i) out.push_back({Kind::Value, i, values.all[size_t(i)].second});
        const auto* shape = std::get_if<ShapeRecipe>(&path->item->recipe);
        if (const auto* w = wheelsOf(shape))
            for (int i = 0; i < int(w->wheels.size()); ++i)
                out.push_back({Kind::Wheel, i, toSpace(*shape, w->wheels[size_t(i)].centre)});
        if (shape && path->loop && path->loop->hangs && !path->problem && !path->gave)
            out.push_back({Kind::Sag, 0, toSpace(*shape, path->loop->hangs->deepest)});
    }
    const auto run = store.currentRun();
    if (run && !run->stale()) {
        RunItem item = *run->item;
        const auto stands = [](const Echo& e) { return e.kind == EchoKind::Mirrored || e.kind == EchoKind::Round; };
        if (std::holds_alternative<AtTarget>(item.facing.nose) && item.facing.targetPath == 0)
            out.push_back({Kind::RunPoint, 0, runPoint(item, 0)});
        if (stands(item.echoes.one)) out.push_back({Kind::RunPoint, 1, runPoint(item, 1)});
        if (stands(item.echoes.two)) out.push_back({Kind::RunPoint, 2, runPoint(item, 2)});
    }
    if (run && !run->stale() && path->path) {
        int lane = 0;
        for (int k = 0; k < int(std::size(kProfiles)); ++k) {
            const Profile* p = profileOf(*run->item, kProfiles[k]);
            if (!p || p->empty() || p->keys.size() > kMostKeys) continue;
            for (size_t i = 0; i < p->keys.size(); ++i) {
                const double s = std::clamp(stationOf(*p, i, path->path->length()), 0.0, path->path->length());
                out.push_back({Kind::Key, k, path->path->at(s).point, int(i), lane});
            }
            ++lane;
        }
    }
    const bool stretch = run && (run->item->spacing->from || run->item->spacing->to);
    if (run && !run->stale() && path->path && (stretch || !path->path->closed())) {
        const Usable u = usableOf(run->item->spacing, path->path->length());
        out.push_back({Kind::InsetStart, 0, path->path->at(u.start).point});
        out.push_back({Kind::InsetEnd, 0, path->path->at(u.end).point});
    }
    return out;
}

QString nameOf(const Handle& h) {
    switch (h.kind) {
    case Handle::Kind::Point: return QString("point %1").arg(h.index + 1);
    case Handle::Kind::Via: return QString("via %1").arg(h.index + 1);
    case Handle::Kind::In: return QString("in %1").arg(h.index + 1);
    case Handle::Kind::Out: return QString("out %1").arg(h.index + 1);
    case Handle::Kind::Value: return QString("value %1").arg(h.index + 1);
    case Handle::Kind::Wheel: return QString("wheel %1").arg(h.index + 1);
    case Handle::Kind::Sag: return "sag";
    case Handle::Kind::Loose: return "loose";
    case Handle::Kind::BodyMove: return "body move";
    case Handle::Kind::BodyTurn: return "body turn";
    case Handle::Kind::BodySize: return "body size";
    case Handle::Kind::InsetStart: return "inset start";
    case Handle::Kind::InsetEnd: return "inset end";
    case Handle::Kind::Key: return QString("%1 key %2").arg(kProfiles[h.index]).arg(h.key + 1);
    case Handle::Kind::RunPoint: return std::array{"target", "echo", "echo again"}[size_t(h.index)];
    }
    return {};
}

HandleDrag::HandleDrag(Store& store, const Handle& handle, QString merge)
    : m_store(store), m_handle(handle), m_merge(std::move(merge)), m_step(store.history().index()) {
    if (handle.kind == Handle::Kind::Loose)
        if (const auto heap = heapInHand(store)) m_heap = heap->item;
    if (handle.kind == Handle::Kind::BodyMove || handle.kind == Handle::Kind::BodyTurn ||
        handle.kind == Handle::Kind::BodySize)
        if (const auto body = store.currentBody(); body && body->ground) {
            m_body = body->item;
            m_origin = body->ground->origin();
        }
    const auto path = store.currentPath();
    if (!path) return;
    m_recipe = path->item->recipe;
    if (const auto run = store.currentRun(); run && handle.kind == Handle::Kind::Key && path->path)
        if (const Profile* p = profileOf(*run->item, kProfiles[handle.index])) {
            m_keyStation = stationOf(*p, size_t(handle.key), path->path->length());
            m_keyValue = p->keys[size_t(handle.key)].value;
        }
    if (!path->path) return;
    m_tangent = path->path->at(path->path->closest(handle.at)).tangent;
    if (const auto* r = editablePoints(*m_recipe); r && store.softReach() > 0)
        for (const auto& q : r->points) m_stations.push_back(path->path->closest(q.at));
}

bool HandleDrag::changed() const { return m_store.history().index() > m_step; }

/// A wheel stays in its loop's plane; everything else moves in the plane that is looked at.
Vec3 HandleDrag::normal(const Vec3& looked) const {
    if ((m_handle.kind == Handle::Kind::Wheel || m_handle.kind == Handle::Kind::Sag) && m_recipe)
        if (const auto* s = std::get_if<ShapeRecipe>(&*m_recipe)) return frameOf(*s).col(2);
    return looked;
}

void HandleDrag::setInset(double inset) {
    const auto run = m_store.currentRun();
    if (!run) return;
    const bool start = m_handle.kind == Handle::Kind::InsetStart;
    m_store.change<RunItem>(run->item->id, start ? tr("Inset at start") : tr("Inset at end"), m_merge,
                            [&](RunItem& r) { (start ? r.spacing->insetStart : r.spacing->insetEnd) = inset; });
}

void HandleDrag::setKey(double station, double value) {
    const auto run = m_store.currentRun();
    if (!run) return;
    profile_keys::change(m_store, *run, kProfiles[m_handle.index], tr("Move a key"), m_merge,
                         [&](Profile& p, double L) { moveKey(p, size_t(m_handle.key), station, value, L); });
}

bool HandleDrag::setKeyTyped(const QString& text, QString* why) {
    const std::string profile = kProfiles[m_handle.index];
    const auto typed = parseProfile(text.toStdString(), m_store.document().unit, valuesOfProfile(profile));
    if (!typed || typed->keys.size() != 1) {
        *why = typed ? tr("Type one value, or a station and a value with a colon between.")
                     : m_store.say(typed.problem().text);
        return false;
    }
    setKey(text.contains(':') ? typed->keys[0].at : m_keyStation, typed->keys[0].value);
    return true;
}

/// The dragged handle put to a point; always worked out from how the recipe was when the drag began.
void HandleDrag::to(const Vec3& to) {
    if (m_heap) { // always from where they stood
        const auto moved = movedLoose(with(m_store.document(), HeapItem(*m_heap)), m_heap->id,
                                      m_store.selection().places, to - m_handle.at);
        if (moved) m_store.edit(*moved, tr("Move loose parts"), m_merge);
        return;
    }
    if (m_body) return bodyTo(to);
    if (const auto run = m_store.currentRun(); run && m_handle.kind == Handle::Kind::RunPoint) {
        const QString names[] = {tr("Move the target"), tr("Move the echo"), tr("Move the echo's echo")};
        m_store.change<RunItem>(run->item->id, names[m_handle.index], m_merge,
                                [&](RunItem& r) { runPoint(r, m_handle.index) = to; });
        return;
    }
    const auto path = m_store.currentPath();
    if (!path || !m_recipe) return;
    PathRecipe recipe = *m_recipe;
    const int i = m_handle.index;
    QString name = tr("Move point %1").arg(i + 1);
    using Kind = Handle::Kind;
    if (auto* r = std::get_if<PointsRecipe>(&recipe)) {
        auto& q = r->points[size_t(i)];
        if (m_handle.kind == Kind::Via) {
            q.via = to;
            name = tr("Bend of leg %1").arg(i + 1);
        } else if (m_handle.kind == Kind::In || m_handle.kind == Kind::Out) {
            const bool out = m_handle.kind == Kind::Out;
            (out ? q.out : q.in) = to - q.at;
            if (auto& other = out ? q.in : q.out; other && q.smooth) // mirrored in direction at smooth points
                other = -other->norm() * (to - q.at).stableNormalized();
            name = tr("Handle of point %1").arg(i + 1);
        } else {
            const Vec3 by = to - q.at;
            const auto& also = m_store.selection().points;
            const double reach = m_store.softReach(), L = path->path ? path->path->length() : 0;
            for (size_t k = 0; k < r->points.size(); ++k) {
                double weight = int(k) == i || also.count(int(k)) ? 1 : 0;
                if (weight == 0 && reach > 0 && k < m_stations.size()) {
                    double d = std::abs(m_stations[k] - m_stations[size_t(i)]);
                    if (r->closed) d = std::min(d, L - d);
                    if (d < reach) weight = std::pow(1 - d * d / (reach * reach), 2);
                }
                r->points[k].at += weight * by;
                if (r->points[k].via) *r->points[k].via += weight * by;
            }
            if (!also.empty()) name = tr("Move %1 points").arg(also.size());
        }
    } else if (m_handle.kind == Kind::Wheel) {
        auto& s = std::get<ShapeRecipe>(recipe);
        std::get<WheelShape>(s.shape).wheels[size_t(i)].centre = toPlane(s, to);
        name = tr("Move a wheel");
    } else if (m_handle.kind == Kind::Sag) { // how far it is pulled down, plumb; never up to where it would be tight
        if (!path->loop || !path->loop->hangs) return;
        auto& loop = std::get<WheelShape>(std::get<ShapeRecipe>(recipe).shape);
        if (!m_sag) m_sag = path->loop->hangs->sag;
        loop.hangsBy = SwagBy::Sag;
        loop.hang = std::max(*m_sag + m_handle.at.z() - to.z(), 0.01 * *m_sag);
        name = tr("Sag of the strand");
    } else {
        describe(PutPoint(i, to), recipe);
        PointValues values;
        describe(values, recipe);
        name = tr("Move \"%1\"").arg(tr(values.all[size_t(i)].first));
    }
    m_store.change<PathItem>(path->item->id, name, m_merge, [&](PathItem& p) { p.recipe = recipe; });
}

/// Always from where it stood: moved, turned about the vertical through its own origin, or sized about that.
void HandleDrag::bodyTo(const Vec3& to) {
    const Vec3 from = m_handle.at - m_origin, now = to - m_origin;
    const QString name = m_body->name.c_str();
    if (m_handle.kind == Handle::Kind::BodyMove) {
        m_store.change<BodyItem>(m_body->id, tr("Move %1").arg(name), m_merge,
                                 [&](BodyItem& b) { b.at = m_body->at + to - m_handle.at; });
    } else if (m_handle.kind == Handle::Kind::BodyTurn) {
        if (now.head<2>().norm() < tolerance::length || from.head<2>().norm() < tolerance::length) return;
        const double by = std::atan2(now.y(), now.x()) - std::atan2(from.y(), from.x());
        const double turn = std::round((m_body->turn.z() + by) / kDegree) * kDegree; // whole degrees
        m_store.change<BodyItem>(m_body->id, tr("Turn %1").arg(name), m_merge,
                                 [&](BodyItem& b) { b.turn.z() = std::remainder(turn, 2 * kPi); });
    } else {
        if (from.norm() < tolerance::length) return;
        const double size = std::clamp(m_body->size * now.norm() / from.norm(), 1e-6, 1e6);
        m_store.change<BodyItem>(m_body->id, tr("Size of %1").arg(name), m_merge,
                                 [&](BodyItem& b) { b.size = std::max(1e-6, std::round(size * 1000) / 1000); });
    }
}

QString textOf(const Handle& handle, const Store& store) {
    const Unit unit = store.document().unit;
    if (handle.inset()) {
        const auto run = store.currentRun();
        if (!run) return {};
        const bool start = handle.kind == Handle::Kind::InsetStart;
        QString text =
            (start ? HandleDrag::tr("in at start %1") : HandleDrag::tr("in at end %1"))
                .arg(lengthText(start ? run->item->spacing->insetStart : run->item->spacing->insetEnd, unit));
        if (run->placed)
            text += HandleDrag::tr(" \u00b7 %1 places \u00b7 c/c %2")
                        .arg(run->placed->count())
                        .arg(lengthText(run->placed->laid->pitch, unit, false));
        return text;
    }
    if (handle.kind == Handle::Kind::Key) {
        const auto run = store.currentRun();
        const std::string profile = kProfiles[handle.index];
        const Profile* p = run ? profileOf(*run->item, profile) : nullptr;
        if (!p || size_t(handle.key) >= p->keys.size() || !run->path || !run->path->path) return {};
        return HandleDrag::tr("%1 %2 at %3")
            .arg(profile_keys::title(profile),
                 profile_keys::valueText(profile, p->keys[size_t(handle.key)].value, unit),
                 lengthText(stationOf(*p, size_t(handle.key), run->path->path->length()), unit));
    }
    for (const Handle& h : handlesOf(store)) {
        if (!(h == handle)) continue;
        QString text = QString("%1, %2, %3")
                           .arg(lengthText(h.at.x(), unit, false), lengthText(h.at.y(), unit, false),
                                lengthText(h.at.z(), unit, false));
        if (const auto body = store.currentBody()) {
            if (h.kind == Handle::Kind::BodyTurn)
                return HandleDrag::tr("turned %1\u00b0").arg(body->item->turn.z() / kDegree, 0, 'f', 0);
            if (h.kind == Handle::Kind::BodySize)
                return HandleDrag::tr("size \u00d7 %1").arg(body->item->size, 0, 'g', 4);
        }
        const auto path = store.currentPath();
        if (h.kind == Handle::Kind::Sag) return HandleDrag::tr("sag %1").arg(lengthText(path->loop->hangs->sag, unit));
        if (h.kind == Handle::Kind::Wheel && path && path->loop)
            text += HandleDrag::tr(" \u00b7 loop %1").arg(lengthText(path->loop->length, unit));
        else if (path && path->path && h.kind != Handle::Kind::Point)
            text += HandleDrag::tr(" \u00b7 path %1").arg(longLengthText(path->path->length(), unit));
        return text;
    }
    return {};
}

} // namespace vicinal
