#include "app/seat/seat_marks.h"
#include "app/controls/format.h"
#include "app/seat/seat_view.h"
#include "app/sheet/part/seat_fields.h"
#include "model/document/part_item.h"

namespace vicinal {

void SeatMarks::lookAt(const BodyPtr& body) {
    if (body == m_of || body == m_looking) return;
    m_looking = body;
    m_of.reset(); // its marks go now, so that coming back to it looks again
    m_spots.clear();
    m_visible.clear();
    m_proposals.clear();
    m_finding.run(
        [body](Job& job) {
            Looked out{spotsOf(*body, 400), {}};
            if (!stopped(&job.stop)) out.holes = holesOf(*body);
            return out;
        },
        [this, body](std::optional<Looked> found) {
            if (body != m_looking) return; // another one is being looked at by now
            m_looking.reset();
            m_of = body;
            if (found) m_spots = std::move(found->spots), m_holes = std::move(found->holes);
            m_changed();
        });
}

void SeatMarks::propose(const PartResult& part) {
    m_proposals.clear();
    if (ready(part.body)) m_proposals = proposalsFor(*part.body, part.item->seat, &m_holes);
}

void SeatMarks::sight(const SeatStage& stage, const Camera& camera) {
    m_visible.assign(m_spots.size(), 1);
    const bool few = stage.there() && m_spots.size() * stage.part().mesh->triangles.size() < 30'000'000;
    for (size_t i = 0; few && i < m_spots.size(); ++i) {
        const auto kind = m_spots[i].kind;
        if (kind == Spot::Kind::Corner || kind == Spot::Kind::EdgeMiddle || kind == Spot::Kind::FaceCentre)
            m_visible[i] = !stage.hides(camera, (stage.pose() * m_spots[i].at.homogeneous()).head<3>());
    }
}

QString wordsOf(const SeatPick& p, Unit unit, bool direction) {
    const auto at = [&](const Vec3& v) {
        return lengthText(v.x(), unit, false) + ", " + lengthText(v.y(), unit, false) + ", " + lengthText(v.z(), unit);
    };
    if (!p.spot) return SeatView::tr("face, towards %1").arg(directionText(Direction(p.direction)));
    QString what;
    switch (p.spot->kind) {
    case Spot::Kind::Corner: what = SeatView::tr("corner"); break;
    case Spot::Kind::EdgeMiddle: what = SeatView::tr("edge middle, %1 long").arg(lengthText(p.spot->size, unit)); break;
    case Spot::Kind::FaceCentre: what = SeatView::tr("face centre"); break;
    case Spot::Kind::HoleAxis: what = SeatView::tr("hole \u2300 %1").arg(lengthText(p.spot->size, unit)); break;
    case Spot::Kind::ShaftAxis: what = SeatView::tr("shaft \u2300 %1").arg(lengthText(p.spot->size, unit)); break;
    case Spot::Kind::VolumeCentre: what = SeatView::tr("centre of volume"); break;
    case Spot::Kind::BoxPoint: what = SeatView::tr("box point"); break;
    }
    if (p.spot->error > tolerance::length) what += SeatView::tr(", fits to %1").arg(lengthText(p.spot->error, unit));
    if (direction) return SeatView::tr("%1 \u00b7 towards %2").arg(what, directionText(Direction(p.direction)));
    return SeatView::tr("%1 \u00b7 at %2").arg(what, at(p.at));
}

std::pair<QString, QString> wordsOf(const Proposal& p, const Body& body, Unit unit) {
    const auto pins = pinsOf(body, p.seat);
    const QString apart = pins ? lengthText(((*pins)[1] - (*pins)[0]).norm(), unit) : QString();
    switch (p.kind) {
    case Proposal::Kind::Foot:
        return {SeatView::tr("Foot centre"), SeatView::tr("It stands on the path by the middle of its foot")};
    case Proposal::Kind::Middle: return {SeatView::tr("Middle"), SeatView::tr("The path runs through its middle")};
    case Proposal::Kind::TwoHoles:
        return {SeatView::tr("Two holes %1").arg(apart),
                SeatView::tr(
                    "It has two equal holes: the seat half-way, pins in both, the nose along the line through them")};
    case Proposal::Kind::OwnPins:
        return {SeatView::tr("Own pins %1").arg(apart), SeatView::tr("As its maker gives them")};
    }
    return {};
}

} // namespace vicinal
