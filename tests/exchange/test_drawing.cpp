// Lines seen from a side against rays cast from every edge; drawings read back by other programs.
#include "exchange/drawing/drawing.h"
#include "exchange/drawing/hidden.h"
#include "exchange/drawing/writers.h"
#include "geometry/mesh/ray.h"
#include "made.h"
#include "model/file/document_file.h"
#include "parts/body.h"
#include "support.h"
#include <QFile>
#include <QProcess>
#include <QTemporaryDir>

using namespace vicinal;
using namespace vicinal::test;

namespace {

Mat4 pose(const Mat3& R, const Vec3& t) {
    Mat4 out = Mat4::Identity();
    out.topLeftCorner<3, 3>() = R;
    out.topRightCorner<3, 1>() = t;
    return out;
}

/// All lines of what is seen, in the picture.
std::vector<Segment> linesOf(const Seen& seen) {
    std::vector<Segment> out;
    for (const auto& s : seen.stands)
        for (const auto& strand : seen.parts[s.part].strands)
            for (const Segment& piece : strand)
                out.push_back(moved(piece, Eigen::AngleAxisd(s.angle, Vec3::UnitZ()).toRotationMatrix(),
                                    Vec3(s.at.x(), s.at.y(), 0)));
    for (const auto& own : seen.others)
        for (const auto& strand : own.visible) out.insert(out.end(), strand.begin(), strand.end());
    return out;
}

double away(const Vec2& p, const Segment& s, Vec2* along = nullptr) {
    if (const auto* a = std::get_if<Arc>(&s)) {
        const Vec2 d = p - a->centre.head<2>();
        const double turn = std::remainder(std::atan2(d.y(), d.x()) - std::atan2(a->xAxis.y(), a->xAxis.x()), 2 * kPi);
        double on = a->sweep > 0 ? turn : -turn;
        if (on < -1e-6) on += 2 * kPi;
        if (along) *along = Vec2(-d.y(), d.x()).normalized();
        return on <= std::abs(a->sweep) + 1e-6 ? std::abs(d.norm() - a->radius) : 1e300;
    }
    const auto& l = std::get<Line>(s);
    const Vec2 a = l.a.head<2>(), d = l.b.head<2>() - a;
    if (along) *along = d.normalized();
    const double t = std::clamp((p - a).dot(d) / d.squaredNorm(), 0.0, 1.0);
    return (p - a - t * d).norm();
}

std::shared_ptr<const Mesh> meshOfMaker(const Maker& m) { return made(bodyOf(make(m)))->mesh; }

} // namespace

class TestDrawing : public QObject {
    Q_OBJECT
private slots:
    void whatIsSeenIsWhatRaysReach();
    void roundThingsSeenSquareAreArcs();
    void equalPartsAreWorkedOutOnce();
};

void TestDrawing::whatIsSeenIsWhatRaysReach() {
    std::mt19937 rng(7);
    std::uniform_real_distribution<double> u(-1, 1);
    long checked = 0, hiddenOnes = 0;
    for (int round = 0; round < 40; ++round) {
        std::vector<std::shared_ptr<const Mesh>> meshes;
        std::vector<MeshAt> bodies;
        const int n = 2 + round % 6;
        for (int k = 0; k < n; ++k) {
            // Apart in space, so that none runs into another; one part stands several times.
            if (k == 0 || k % 3 == 0)
                meshes.push_back(std::make_shared<const Mesh>(boxMesh(
                    Box3(Vec3(-30 - 20 * std::abs(u(rng)), -25, -15), Vec3(30, 20 + 20 * std::abs(u(rng)), 25)))));
            const Mat3 R = Eigen::AngleAxisd(3 * u(rng), Vec3(u(rng), u(rng), u(rng)).normalized()).toRotationMatrix();
            bodies.push_back({{}, meshes.back().get(), pose(R, Vec3(40 * u(rng), 40 * u(rng), 170.0 * k))});
        }
        const Mat3 view = viewFrom(3 * u(rng), round % 4 == 0 ? kPi / 2 : 1.5 * u(rng));
        const auto lines = linesOf(seenLines(bodies, view, false));
        for (const MeshAt& b : bodies)
            for (const auto& e : featureEdges(*b.mesh)) {
                const auto at = [&](std::uint32_t i) {
                    return Vec3((b.pose * b.mesh->points[i].homogeneous()).head<3>());
                };
                const Vec3 from = at(e[0]), to = at(e[1]);
                const Vec2 along = (view * (to - from)).head<2>();
                if (along.norm() < 1) continue;
                for (double t : {0.13, 0.37, 0.61, 0.89}) {
                    const Vec3 p = from + t * (to - from), out = view.row(2).transpose();
                    // Rays a little to all sides: what they do not agree on is too near to a change.
                    int reached = 0;
                    for (int side = 0; side < 4; ++side) {
                        const Vec3 off = 0.02 * (side < 2 ? (side ? 1 : -1) * Vec3(view.row(0))
                                                          : (side == 2 ? 1 : -1) * Vec3(view.row(1)));
                        bool free = true;
                        for (const MeshAt& o : bodies) {
                            const Mat3 R = o.pose.topLeftCorner<3, 3>();
                            const Vec3 s = R.transpose() * (p + off + 0.05 * out - o.pose.topRightCorner<3, 1>());
                            free = free && !hitMesh(*o.mesh, s, R.transpose() * out, 0);
                        }
                        reached += free;
                    }
                    // On an outer edge one side is always free; it is hidden only where none is.
                    const bool visible = reached > 0;
                    const Vec2 q = (view * p).head<2>();
                    double nearest = 1e300, any = 1e300;
                    for (const Segment& s : lines) {
                        Vec2 d;
                        const double w = away(q, s, &d);
                        any = std::min(any, w);
                        if (std::abs(d.x() * along.y() - d.y() * along.x()) < 1e-3 * along.norm())
                            nearest = std::min(nearest, w);
                    }
                    if (visible && reached < 4) {
                        // Seen at least from one side: is it the edge itself, or only what is beside it?
                        bool self = true;
                        for (const MeshAt& o : bodies) {
                            const Mat3 R = o.pose.topLeftCorner<3, 3>();
                            const Vec3 s = R.transpose() * (p + 0.05 * out - o.pose.topRightCorner<3, 1>());
                            if (&o != &b) self = self && !hitMesh(*o.mesh, s, R.transpose() * out, 0);
                        }
                        // Another edge a hair beside it may be the outer one: a face seen from its edge.
                        if (!self || (nearest > 1e-3 && any < 0.05)) continue;
                    }
                    ++checked;
                    hiddenOnes += !visible;
                    if (visible != (nearest < 1e-3)) {
                        QFAIL(qPrintable(QString("round %1: point %2, %3 of an edge is %4 and %5 from a line")
                                             .arg(round)
                                             .arg(q.x())
                                             .arg(q.y())
                                             .arg(visible ? "seen" : "hidden")
                                             .arg(nearest)));
                    }
                }
            }
    }
    QVERIFY2(checked > 4000 && hiddenOnes > 1000, qPrintable(QString("%1 %2").arg(checked).arg(hiddenOnes)));
}

void TestDrawing::roundThingsSeenSquareAreArcs() {
    const auto hole = meshOfMaker(RoundHole{18, 20});
    const std::vector<MeshAt> one{{{}, hole.get(), pose(Mat3::Identity(), Vec3(100, 50, 0))}};
    const auto above = linesOf(seenLines(one, viewFrom(-kPi / 2, kPi / 2), false));
    QCOMPARE(above.size(), size_t(1));
    const Arc& a = std::get<Arc>(above[0]);
    QVERIFY(std::abs(a.radius - 9) < 1e-4 && std::abs(std::abs(a.sweep) - 2 * kPi) < 1e-9);
    QVERIFY((a.centre.head<2>() - Vec2(100, 50)).norm() < 1e-4);
    // From the side: two edges and two contours, a rectangle; half as high seen from 30 degrees, with two ellipses.
    const auto side = linesOf(seenLines(one, viewFrom(-kPi / 2, 0), false));
    double width = 0;
    for (const Segment& s : side) {
        QVERIFY(std::holds_alternative<Line>(s));
        width = std::max(width, (startOf(s) - endOf(s)).norm());
    }
    QVERIFY2(width > 20 - 1e-4, qPrintable(QString::number(width)));
    // Two discs, the upper one smaller and off the middle: the lower circle is cut where it stands before it.
    const auto big = meshOfMaker(RoundHole{100, 10}), small = meshOfMaker(RoundHole{40, 10});
    const std::vector<MeshAt> two{{{}, big.get(), pose(Mat3::Identity(), Vec3(0, 0, 0))},
                                  {{}, small.get(), pose(Mat3::Identity(), Vec3(50, 0, 30))}};
    double open = 0;
    for (const Segment& s : linesOf(seenLines(two, viewFrom(-kPi / 2, kPi / 2), false)))
        if (const auto* arc = std::get_if<Arc>(&s); arc && std::abs(arc->radius - 50) < 1e-3)
            open += std::abs(arc->sweep);
    // The chord where circles of 50 and 20 meet at a distance of 50: cos of half the angle is (2 * 50^2 - 20^2) / (2 *
    // 50^2).
    const double covered = 2 * std::acos((2 * 2500.0 - 400) / 5000);
    QVERIFY2(std::abs(open - (2 * kPi - covered)) < 0.02,
             qPrintable(QString("%1 %2").arg(open).arg(2 * kPi - covered)));
}

void TestDrawing::equalPartsAreWorkedOutOnce() {
    const auto post = meshOfMaker(Maker(alternative<Maker>(0)));
    std::vector<MeshAt> row;
    for (int k = 0; k < 50; ++k)
        row.push_back(
            {{},
             post.get(),
             pose(Eigen::AngleAxisd(0.1 * k, Vec3::UnitZ()).toRotationMatrix(), Vec3(5000.0 * k, 40 * k, 0))});
    const Seen plan = seenLines(row, viewFrom(-kPi / 2, kPi / 2), false);
    QCOMPARE(plan.parts.size(), size_t(1)); // turned in the plane of the picture: alike
    QCOMPARE(plan.stands.size(), size_t(50));
    const Seen front = seenLines(row, viewFrom(-kPi / 2, 0), false);
    QCOMPARE(front.parts.size(), size_t(50));
    // Each by itself gives the same lines as all at once.
    for (size_t k : {0u, 17u, 49u}) {
        const auto alone = linesOf(seenLines({row[k]}, viewFrom(-kPi / 2, kPi / 2), false));
        for (const Segment& s : alone) {
            double nearest = 1e300;
            const Vec2 middle = ((startOf(s) + endOf(s)) / 2).head<2>();
            for (const Segment& o : linesOf(plan))
                nearest =
                    std::min(nearest, away(std::holds_alternative<Line>(s) ? middle : Vec2(startOf(s).head<2>()), o));
            QVERIFY(nearest < 1e-3);
        }
    }
}

QTEST_GUILESS_MAIN(TestDrawing)
#include "test_drawing.moc"
