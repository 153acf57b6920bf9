// Files out, read back by other programs: ezdxf for DXF, assimp for GLB, Python's csv and json for the schedule.
#include "exchange/out/send_out.h"
#include "geometry/wheels/wheels.h"
#include "layout/spacing/rules.h"
#include "made.h"
#include "model/document/part_item.h"
#include "model/document/path_item.h"
#include "model/document/run_item.h"
#include "model/documents.h"
#include "model/evaluate/motion/moving.h"
#include "model/file/document_file.h"
#include "parts/solid/outline.h"
#include "suite.h"
#include <QJsonArray>
#include <QJsonDocument>
#include <QJsonObject>
#include <QProcess>
#include <assimp/Importer.hpp>
#include <assimp/anim.h>
#include <assimp/scene.h>
#include <cstring>
#include <functional>
#include <set>

namespace test_send_out {

using namespace vicinal;
using namespace vicinal::test;

namespace {

QJsonDocument python(const QString& code, const QStringList& arguments) {
    QProcess p;
    p.start("/usr/bin/python3", QStringList{"-c", code} + arguments);
    p.waitForFinished(60'000);
    if (p.exitCode() != 0) qWarning() << p.readAllStandardError();
    return QJsonDocument::fromJson(p.readAllStandardOutput());
}

/// Seat axes to world, from where the part's own axes are.
Mat3 turnOfSeat(const Mat4& pose, const Seat& seat) {
    return pose.topLeftCorner<3, 3>() * seatRotation(seat).transpose();
}

Vec3 vec(const QJsonValue& v) { return {v[0].toDouble(), v[1].toDouble(), v[2].toDouble()}; }

/// Runs that tilt, roll and turn: nothing an insert could fake with a plan angle.
Document tilted() {
    Document d = fullDocument();
    const auto runs = d.runs; // held: d is replaced within
    for (const auto& run : runs) {
        RunItem r = *run;
        r.facing.nose = NoseRule(AlongPath{});
        d = with(d, r);
    }
    return d;
}

} // namespace

class TestSendOut : public QObject {
    Q_OBJECT
private slots:
    void scheduleReadsBack();
    void dxfStandsWhereThePartsStand();
    void dxfPathIsTheSameCurve();
    void outlineIsTheShadowOfThePart();
    void dxfOutlinesKeepTheirArcs();
    void glbNodesAreThePlaces();
    void severalPartsAndSizesInOneRun();
    void wheelsGoOutAsTheyStand();
    void trianglesStandWhereThePartsStand();
    void motionGoesOutAsKeys();
    void whatCannotBeSentIsNamed();
};

void TestSendOut::scheduleReadsBack() {
    QTemporaryDir dir;
    const Document d = tilted();
    const auto evaluation = evaluate(d);
    const auto runs = chosenRuns(*evaluation);
    const QString csv = dir.filePath("s.csv"), json = dir.filePath("s.json");
    QVERIFY(!sendOut(asStanding(*runs), csv.toStdString()));
    QVERIFY(!sendOut(asStanding(*runs), json.toStdString()));
    const auto rows = python("import csv,json,sys; print(json.dumps([[r, j] for r, j in "
                             "zip(csv.DictReader(open(sys.argv[1])), json.load(open(sys.argv[2]))['places'])]))",
                             {csv, json})
                          .array();
    int expected = 0;
    for (const auto& r : *runs) expected += r->placed->present;
    QCOMPARE(int(rows.size()), expected);
    int at = 0;
    for (const auto& run : *runs)
        for (size_t i = 0; i < run->placed->count(); ++i) {
            if (run->placed->leftOut(i)) continue;
            const auto row = rows[at][0].toObject(), exact = rows[at][1].toObject();
            ++at;
            QCOMPARE(row["run"].toString().toStdString(), run->item->name);
            QCOMPARE(row["place"].toString().toInt(), int(i) + 1);
            QCOMPARE(exact["station"].toDouble(), run->placed->stations()[i]); // all 17 digits
            // The quaternion and the angles, each on its own, rebuild the seat's rotation.
            const Mat3 R = turnOfSeat(run->placed->pose(i), run->placed->parts[0].seat);
            const Quat q(exact["qw"].toDouble(), exact["qx"].toDouble(), exact["qy"].toDouble(),
                         exact["qz"].toDouble());
            NEAR((q.toRotationMatrix() - R).norm(), 0, 1e-9);
            const auto number = [&](const char* key) { return row[key].toString().toDouble(); };
            const Mat3 again = (Eigen::AngleAxisd(number("heading") * kDegree, Vec3::UnitZ()) *
                                Eigen::AngleAxisd(-number("slope") * kDegree, Vec3::UnitY()) *
                                Eigen::AngleAxisd(number("roll") * kDegree, Vec3::UnitX()))
                                   .toRotationMatrix();
            NEAR((again - R).norm(), 0, 1e-7);
            const Vec3 p = run->placed->path.at(run->placed->stations()[i]).point;
            NEAR((Vec3(number("x"), number("y"), number("z")) - p).norm(), 0, 2e-6);
        }
}

void TestSendOut::dxfStandsWhereThePartsStand() {
    QTemporaryDir dir;
    const Document d = tilted();
    const auto evaluation = evaluate(d);
    const auto runs = chosenRuns(*evaluation);
    const QString file = dir.filePath("o.dxf");
    QVERIFY(!sendOut(asStanding(*runs), file.toStdString()));
    // ezdxf works out each insert's own matrix; three points of the block give position and turn.
    const auto read = python(R"(
import ezdxf, json, sys
doc = ezdxf.readfile(sys.argv[1]); errors = [str(e) for e in doc.audit().errors]
out = []
for i in doc.modelspace().query("INSERT"):
    m = i.matrix44()
    out.append([i.dxf.layer, i.dxf.name] + [list(m.transform(p)) for p in ((0, 0, 0), (1, 0, 0), (0, 0, 1))])
blocks = {b.name: len(b) for b in doc.blocks if not b.name.startswith("*")}
print(json.dumps({"errors": errors, "units": doc.header["$INSUNITS"], "inserts": out, "blocks": blocks, "layers": [l.dxf.name for l in doc.layers]}))
)",
                             {file})
                          .object();
    QCOMPARE(read["errors"].toArray().size(), 0);
    QCOMPARE(read["units"].toInt(), 4);
    QCOMPARE(read["blocks"].toObject().size(), 3);
    QCOMPARE(read["blocks"].toObject()["WEDGE"].toInt(), 1);
    QVERIFY(read["layers"].toArray().contains("PATH-SLIPWAY__EAST_"));
    const auto inserts = read["inserts"].toArray();
    int at = 0;
    for (const auto& run : *runs) {
        const Vec3 seat = seatPoint(run->placed->parts[0].seat, run->placed->parts[0].mesh->box);
        for (size_t i = 0; i < run->placed->count(); ++i) {
            if (run->placed->leftOut(i)) continue;
            const auto row = inserts[at++].toArray();
            const Mat4& pose = run->placed->pose(i);
            const Mat3 R = turnOfSeat(pose, run->placed->parts[0].seat);
            const Vec3 p = (pose * seat.homogeneous()).head<3>();
            NEAR((vec(row[2]) - p).norm(), 0, 1e-6);
            NEAR((vec(row[3]) - vec(row[2]) - R.col(0)).norm(), 0, 1e-6);
            NEAR((vec(row[4]) - vec(row[2]) - R.col(2)).norm(), 0, 1e-6);
        }
    }
    QCOMPARE(at, int(inserts.size()));
}

void TestSendOut::dxfPathIsTheSameCurve() {
    QTemporaryDir dir;
    Document d = fullDocument();
    RunItem r = *d.runs[0];
    r.path = 2; // line, arc, Bezier, ellipse as they were brought in
    d = with(d, r);
    const auto evaluation = evaluate(d);
    const QString file = dir.filePath("o.dxf");
    // The example's second path has a gap on purpose? It must not: then this run would be stale.
    QVERIFY2(!evaluation->runs[0]->problem,
             evaluation->runs[0]->problem ? evaluation->runs[0]->problem->text.c_str() : "");
    QVERIFY(!sendOut({evaluation->runs[0], evaluation->runs[1]}, file.toStdString()));
    auto back = readDxf(file.toStdString());
    QVERIFY(bool(back));
    const auto strands = pathsOf(back.value(), 1, 0.001);
    QVERIFY(bool(strands));
    std::map<std::string, Path> paths;
    for (const auto& s : *strands) paths.emplace(s.layer, *Path::make(s.segments, s.closed, 0.01));
    for (const auto& [id, layer] : {std::pair{1, "PATH-SLIPWAY__EAST_"}, {2, "PATH-QUAY_EDGE"}}) {
        const Path& a = *evaluation->paths.at(id)->path;
        const Path& b = paths.at(layer);
        NEAR(a.length(), b.length(), 1e-5);
        for (double s : evenly(std::min(a.length(), b.length()), 50))
            NEAR((a.at(s).point - b.at(s).point).norm(), 0, 1e-5);
    }
}

void TestSendOut::outlineIsTheShadowOfThePart() {
    const auto mesh = *readMesh(wedgeObj(), "obj", 1);
    const Seat seat{BoxPoint{-1, 0, -1}, Axis::PlusX, Axis::PlusZ};
    const auto rings = outlineFromAbove(*mesh, seat);
    QCOMPARE(rings.size(), size_t(1));
    double area = 0;
    for (size_t i = 0; i < rings[0].size(); ++i) {
        const Vec2 a = rings[0][i], b = rings[0][(i + 1) % rings[0].size()];
        area += (a.x() * b.y() - a.y() * b.x()) / 2;
    }
    NEAR(area, 60 * (40 + 10) / 2.0, 0.01); // a trapezium, counter-clockwise
    // Seen along the nose it is the large end.
    const auto end = outlineFromAbove(*mesh, {BoxPoint{}, Axis::PlusZ, Axis::MinusX});
    Box3 box;
    for (const auto& p : end[0]) box.extend(Vec3(p.x(), p.y(), 0));
    NEAR(box.sizes().x(), 30, 1e-3);
    NEAR(box.sizes().y(), 40, 1e-3);
}

/// Exact solids go out as lines and arcs, not chords: ezdxf's reading of the block has the area of a formula.
void TestSendOut::dxfOutlinesKeepTheirArcs() {
    QTemporaryDir dir;
    Document d;
    PathItem path;
    PointsRecipe r;
    r.points = {{Vec3(0, 0, 0)}, {Vec3(900, 0, 0)}};
    path.recipe = r;
    d = with(d, path);
    // The segment of a circle that a chord cuts off three hundred degrees of.
    PathItem bow;
    PointsRecipe around{{{Vec3(50, 0, 0), false}, {Vec3(25 * std::sqrt(3.0), 25, 0), false}}, true};
    around.points[1].via = Vec3(-50, 0, 0);
    around.points[0].at = Vec3(25 * std::sqrt(3.0), -25, 0);
    bow.recipe = around;
    d = with(d, bow);
    const auto repeat = [&](PartShape shape) {
        PartItem part;
        part.shape = std::move(shape);
        part.seat.point = Vec3(0, 0, 0);
        d = with(d, part);
        RunItem run;
        run.path = d.paths[0]->id;
        run.part = d.parts.back()->id;
        run.spacing->rule = StepOff{800};
        d = with(d, run);
    };
    repeat(ExtrudedPath{d.paths[1]->id, 20});
    const std::pair<Maker, double> parts[] = {{Tile{300, 200, 40, 60}, 300 * 200 - (4 - kPi) * 60 * 60},
                                              {Cylinder{70, 30}, kPi * 35 * 35},
                                              {SlotHole{80, 30, 9}, 50 * 30 + kPi * 15 * 15},
                                              {Tube{60, 4, 200}, 60 * 200}};
    for (const auto& [maker, area] : parts) repeat(maker);
    const auto runs = chosenRuns(*evaluate(d));
    const QString file = dir.filePath("arcs.dxf");
    QVERIFY(!sendOut(asStanding(*runs), file.toStdString()));
    const auto read = python(R"(
import ezdxf, json, math, sys
doc = ezdxf.readfile(sys.argv[1])
def area(pl):
    p = list(pl.get_points("xyb")); a = 0.0
    for (x0, y0, b), (x1, y1, _) in zip(p, p[1:] + p[:1]):
        a += (x0 * y1 - x1 * y0) / 2
        if b:
            t = 4 * math.atan(b); c = math.hypot(x1 - x0, y1 - y0); rad = c / 2 / math.sin(t / 2)
            a += rad * rad * (t - math.sin(t)) / 2
    return a
rows = []
for i in doc.modelspace().query("INSERT"):
    lines = [e for e in doc.blocks[i.dxf.name] if e.dxftype() == "LWPOLYLINE"]
    rows.append([sum(area(e) for e in lines), sum(len(e) for e in lines), len(lines), len(doc.blocks[i.dxf.name])])
print(json.dumps(rows))
)",
                             {file})
                          .array();
    QVERIFY(read.size() >= 5);
    std::set<int> found;
    const double segment = 50 * 50 / 2 * (5 * kPi / 3 - std::sin(5 * kPi / 3));
    QVERIFY(std::any_of(read.begin(), read.end(), [&](const auto& row) {
        return std::abs(row.toArray()[0].toDouble() - segment) < 1e-5 * segment && row.toArray()[1].toInt() <= 4;
    }));
    for (const auto& row : read)
        for (int k = 0; k < 4; ++k)
            if (std::abs(row.toArray()[0].toDouble() - parts[k].second) < 1e-5 * parts[k].second) {
                found.insert(k);
                QVERIFY2(row.toArray()[1].toInt() <= 8,
                         qPrintable(QString("part %1: %2 points in %3 lines, %4 entities")
                                        .arg(k)
                                        .arg(row.toArray()[1].toInt())
                                        .arg(row.toArray()[2].toInt())
                                        .arg(row.toArray()[3].toInt())));
            }
    QCOMPARE(found.size(), size_t(4));
}

void TestSendOut::glbNodesAreThePlaces() {
    QTemporaryDir dir;
    const auto evaluation = evaluate(tilted());
    const auto runs = chosenRuns(*evaluation);
    const QString file = dir.filePath("o.glb");
    QVERIFY(!sendOut(asStanding(*runs), file.toStdString()));
    Assimp::Importer importer;
    const aiScene* scene = importer.ReadFile(file.toStdString(), 0);
    QVERIFY2(scene, importer.GetErrorString());
    QCOMPARE(scene->mNumMeshes, 3u); // one a part
    // Each view says what a graphics card keeps in it: corners of triangles apart from values of points.
    const auto views = python(R"(
import json, struct, sys
b = open(sys.argv[1], "rb").read()
j = json.loads(b[20:20 + struct.unpack("<I", b[12:16])[0]])
v = [w.get("target") for w in j["bufferViews"]]
print(json.dumps([[v[j["accessors"][a]["bufferView"]] for m in j["meshes"] for p in m["primitives"] for a in p["attributes"].values()],
                  [v[j["accessors"][p["indices"]]["bufferView"]] for m in j["meshes"] for p in m["primitives"] if "indices" in p]]))
)",
                              {file})
                           .array();
    for (int k = 0; k < 2; ++k)
        for (const auto& target : views[k].toArray()) QCOMPARE(target.toInt(), k == 0 ? 34962 : 34963);
    QVERIFY(views[0].toArray().size() >= 3);
    std::map<std::string, aiMatrix4x4> nodes;
    std::function<void(const aiNode*, aiMatrix4x4)> walk = [&](const aiNode* n, aiMatrix4x4 m) {
        m = m * n->mTransformation;
        if (n->mNumMeshes) nodes[n->mName.C_Str()] = m;
        for (unsigned i = 0; i < n->mNumChildren; ++i) walk(n->mChildren[i], m);
    };
    walk(scene->mRootNode, {});
    size_t expected = 0;
    for (const auto& run : *runs) {
        const Vec3 seat = seatPoint(run->placed->parts[0].seat, run->placed->parts[0].mesh->box);
        for (size_t i = 0; i < run->placed->count(); ++i) {
            if (run->placed->leftOut(i)) continue;
            ++expected;
            const auto it = nodes.find(run->item->name + " " + std::to_string(i + 1));
            QVERIFY(it != nodes.end());
            // Any corner of the part, from its seat point in metres and y up, lands where the pose puts it.
            const Vec3 corner = run->placed->parts[0].mesh->box.max();
            const Vec3 local = (corner - seat) / 1000;
            const aiVector3D got = it->second * aiVector3D(float(local.x()), float(local.z()), float(-local.y()));
            const Vec3 want = (run->placed->pose(i) * corner.homogeneous()).head<3>() / 1000;
            NEAR((Vec3(got.x, -got.z, got.y) - want).norm(), 0, 2e-6); // assimp reads in single precision
        }
    }
    QCOMPARE(nodes.size(), expected);
    // The file's own words for how far its points reach are what they reach.
    const std::string bytes = *readFile(file.toStdString());
    const auto number = [&](size_t at) {
        std::uint32_t v = 0;
        std::memcpy(&v, bytes.data() + at, 4);
        return v;
    };
    const auto json = QJsonDocument::fromJson(QByteArray(bytes.data() + 20, number(12))).object();
    const size_t binary = 20 + number(12) + 8;
    int told = 0;
    for (const auto& one : json["accessors"].toArray()) {
        const auto a = one.toObject();
        if (!a.contains("max")) continue;
        ++told;
        const size_t from =
            binary + size_t(json["bufferViews"].toArray()[a["bufferView"].toInt()].toObject()["byteOffset"].toInt());
        Box3 box;
        for (int k = 0; k < a["count"].toInt(); ++k) {
            std::array<float, 3> p;
            std::memcpy(p.data(), bytes.data() + from + size_t(k) * sizeof p, sizeof p);
            box.extend(Vec3(p[0], p[1], p[2]));
        }
        for (int i = 0; i < 3; ++i) {
            NEAR(a["min"].toArray()[i].toDouble(), box.min()[i], 1e-9);
            NEAR(a["max"].toArray()[i].toDouble(), box.max()[i], 1e-9);
        }
    }
    QCOMPARE(told, 3);
    // Outside faces look outwards.
    for (unsigned m = 0; m < scene->mNumMeshes; ++m) {
        double volume = 0;
        for (unsigned f = 0; f < scene->mMeshes[m]->mNumFaces; ++f) {
            const auto* v = scene->mMeshes[m]->mVertices;
            const auto* i = scene->mMeshes[m]->mFaces[f].mIndices;
            volume += double(v[i[0]] * (v[i[1]] ^ v[i[2]])) / 6;
        }
        QVERIFY(volume > 0);
    }
}

/// No rule sets two parts yet, but what goes out must not care: a run is put together by hand.
void TestSendOut::severalPartsAndSizesInOneRun() {
    QTemporaryDir dir;
    const auto evaluation = evaluate(tilted());
    auto mixed = std::make_shared<RunResult>(*evaluation->runs[0]);
    const Placed& other = *evaluation->runs[1]->placed;
    QVERIFY(mixed->placed->parts[0].id != other.parts[0].id);
    auto placed = std::make_shared<Placed>(*mixed->placed);
    auto laid = std::make_shared<Placement>(*placed->laid);
    const size_t n = laid->count();
    laid->usedSlots.push_back(other.laid->usedSlots[0]);
    auto& slot = laid->slot.each(n);
    auto& size = laid->size.each(n);
    for (size_t i = 0; i < n; ++i) slot[i] = i % 2, size[i] = 1 + 0.25 * double(i % 3);
    placed->parts.push_back(other.parts[0]);
    placed->set(laid);
    mixed->stand(placed);
    const Standings runs{mixed};
    for (size_t i = 0; i < n; ++i) { // grown about the seat point, which stays on the path
        const PlacedPart& part = placed->part(i);
        const Vec3 seat = seatPoint(part.seat, part.mesh->box);
        NEAR(((placed->pose(i) * seat.homogeneous()).head<3>() - placed->frame(i).seat).norm(), 0, 1e-9);
        NEAR(placed->pose(i).col(0).norm(), size[i], 1e-12);
    }
    const auto rows = QJsonDocument::fromJson(QByteArray::fromStdString(scheduleJson(runs)))["places"].toArray();
    const QString file = dir.filePath("mixed.dxf");
    QVERIFY(!sendOut(runs, file.toStdString()));
    const auto inserts = python(R"(
import ezdxf, json, sys
from ezdxf.math import Vec3
doc = ezdxf.readfile(sys.argv[1])
print(json.dumps([[i.dxf.name, [list(i.matrix44().transform(v)) for v in (Vec3(0, 0, 0), Vec3(1, 0, 0), Vec3(0, 0, 1))]]
                  for i in doc.modelspace().query("INSERT")]))
)",
                                {file})
                             .array();
    const std::string bytes = glb(runs);
    Assimp::Importer importer;
    const aiScene* scene = importer.ReadFileFromMemory(bytes.data(), bytes.size(), 0, "glb");
    QVERIFY(scene);
    int at = 0;
    for (size_t i = 0; i < n; ++i) {
        if (placed->leftOut(i)) continue;
        const auto row = rows[at].toObject();
        QCOMPARE(row["part"].toString().toStdString(), placed->part(i).name);
        QCOMPARE(row["size"].toDouble(), size[i]);
        const auto insert = inserts[at].toArray();
        const Frame& f = placed->frame(i);
        NEAR((vec(insert[1][0]) - f.seat).norm(), 0, 1e-6);
        NEAR((vec(insert[1][1]) - f.seat - size[i] * f.axes.col(0)).norm(), 0, 1e-6);
        NEAR((vec(insert[1][2]) - f.seat - size[i] * f.axes.col(2)).norm(), 0, 1e-6);
        const auto* node = scene->mRootNode->FindNode((mixed->item->name + " " + std::to_string(i + 1)).c_str());
        QVERIFY(node && node->mNumMeshes == 1);
        aiVector3D scale, where;
        aiQuaternion turn;
        node->mTransformation.Decompose(scale, turn, where);
        NEAR(scale.x, size[i], 1e-5);
        QCOMPARE(node->mMeshes[0], unsigned(slot[i]));
        ++at;
    }
    QCOMPARE(at, int(rows.size()));
    QCOMPARE(at, int(inserts.size()));
}

/// The winch drive with its sprockets, read by another library: each stands on its axis, its gaps at the pins.
void TestSendOut::wheelsGoOutAsTheyStand() {
    const auto d = openDocument(std::string(VICINAL_SOURCE) + "/examples/saltmarrow-drives.json", {});
    QVERIFY2(bool(d), d ? "" : d.problem().text.c_str());
    const auto e = evaluate(*d);
    const auto run = e->run(20);
    const std::string bytes = glb({run});
    Assimp::Importer importer;
    const aiScene* scene = importer.ReadFileFromMemory(bytes.data(), bytes.size(), 0, "glb");
    QVERIFY(scene);
    QVERIFY(scene->mRootNode->FindNode("Winch loop wheels"));
    for (const WheelPlaced& w : run->path->wheels) {
        const auto* node = scene->mRootNode->FindNode(w.name.c_str());
        QVERIFY(node && node->mNumMeshes == 1);
        const aiVector3D at = node->mTransformation * aiVector3D(0, 0, 0),
                         gap = node->mTransformation * aiVector3D(1, 0, 0);
        const auto world = [](const aiVector3D& v) { return Vec3(1000. * v.x, -1000. * v.z, 1000. * v.y); };
        NEAR((world(at) - w.centre).norm(), 0, 1e-3);
        // The way to the middle of a gap: some pin of the chain is on it, or a whole number of teeth away.
        const Vec3 out = (world(gap) - world(at)).normalized();
        const double tooth = 2 * kPi / double(std::get<Sprocket>(*w.maker).teeth);
        double least = 1;
        for (double s : run->placed->stations()) {
            const Vec3 arm = run->path->path->at(s).point - w.centre;
            if (std::abs(arm.norm() - pitchRadius(std::get<Sprocket>(*w.maker).teeth, 25.4)) > 1e-6) continue;
            least = std::min(least, std::abs(std::remainder(std::atan2(out.cross(arm).norm(), out.dot(arm)), tooth)));
        }
        NEAR(least, 0, 1e-5);
    }
    // The same in a drawing, by a third reader: a block for each body, its outline as large as its teeth, on its axis,
    // turned the same way.
    QTemporaryDir dir;
    const QString file = dir.filePath("wheels.dxf");
    QVERIFY(!sendOut({run}, file.toStdString()));
    const auto inserts = python(R"(
import ezdxf, json, sys
from ezdxf.math import Vec3
from ezdxf import bbox
doc = ezdxf.readfile(sys.argv[1])
assert not doc.audit().errors
out = []
for i in doc.modelspace().query("INSERT"):
    if i.dxf.name.startswith("WHEEL-"):
        far = max(Vec3(p[0], p[1], 0).magnitude for e in doc.blocks[i.dxf.name] for p in e.get_points("xy"))
        out.append([i.dxf.name, far, [list(i.matrix44().transform(v)) for v in (Vec3(0, 0, 0), Vec3(1, 0, 0), Vec3(0, 0, 1))]])
print(json.dumps(out))
)",
                                {file})
                             .array();
    const auto wheels = wheelsOf(*run);
    QCOMPARE(size_t(inserts.size()), run->path->wheels.size());
    QCOMPARE(wheels->count(), run->path->wheels.size());
    for (size_t k = 0; k < run->path->wheels.size(); ++k) {
        const WheelPlaced& w = run->path->wheels[k];
        QVERIFY(wheels->partAt(k).mesh == w.mesh);
        const auto insert = inserts[int(k)].toArray();
        const auto points = insert[2].toArray();
        const Mat4 pose = wheels->instances->pose(k);
        NEAR((vec(points[0]) - w.centre).norm(), 0, 1e-6);
        NEAR((vec(points[1]) - vec(points[0]) - pose.col(0).head<3>()).norm(), 0, 1e-6);
        NEAR((vec(points[2]) - vec(points[0]) - pose.col(2).head<3>()).norm(), 0, 1e-6);
        double far = 0;
        for (const Vec3& p : w.mesh->points) far = std::max(far, std::hypot(p.x(), p.y()));
        NEAR(insert[1].toDouble(), far, 0.05);
    }
}

/// Triangles where they stand, read by another library: as many, the same box, an object a place; too many are refused
/// with what to do instead.
void TestSendOut::trianglesStandWhereThePartsStand() {
    const Document d = tilted();
    const auto runs = chosenRuns(*evaluate(d));
    QVERIFY(bool(runs));
    size_t triangles = 0, bodies = 0;
    double volume = 0;
    Box3 box;
    for (const auto& run : *runs)
        for (size_t i = 0; i < run->placed->bodies(); ++i) {
            if (run->placed->leftOut(i)) continue;
            const Mesh& m = *run->placed->part(i).mesh;
            const Mat4 pose = run->placed->pose(i);
            for (const Vec3& p : m.points) box.extend(Vec3((pose * p.homogeneous()).head<3>()));
            triangles += m.triangles.size();
            volume += pose.topLeftCorner<3, 3>().determinant() * volumeOf(m);
            ++bodies;
        }
    for (const char* kind : {".obj", ".stl", ".ply"}) {
        const auto bytes = meshesOf(asStanding(*runs), kind);
        QVERIFY(bool(bytes));
        Assimp::Importer importer;
        const aiScene* scene = importer.ReadFileFromMemory(bytes->data(), bytes->size(), 0, kind + 1);
        QVERIFY2(scene, importer.GetErrorString());
        size_t faces = 0;
        double enclosed = 0; // whatever corners a face names, they are its own
        Box3 found;
        for (unsigned m = 0; m < scene->mNumMeshes; ++m) {
            faces += scene->mMeshes[m]->mNumFaces;
            for (unsigned k = 0; k < scene->mMeshes[m]->mNumVertices; ++k) {
                const aiVector3D& v = scene->mMeshes[m]->mVertices[k];
                found.extend(Vec3(v.x, v.y, v.z));
            }
            for (unsigned k = 0; k < scene->mMeshes[m]->mNumFaces; ++k) {
                const auto corner = [&](int c) {
                    const aiVector3D& v = scene->mMeshes[m]->mVertices[scene->mMeshes[m]->mFaces[k].mIndices[c]];
                    return Vec3(Vec3(v.x, v.y, v.z) - box.center());
                };
                enclosed += corner(0).dot(corner(1).cross(corner(2))) / 6;
            }
        }
        NEAR(enclosed, volume, 1e-4 * std::abs(volume));
        QCOMPARE(faces, triangles);
        NEAR((found.min() - box.min()).norm(), 0, 1e-5 * box.diagonal().norm());
        NEAR((found.max() - box.max()).norm(), 0, 1e-5 * box.diagonal().norm());
    }
    const std::string obj = *meshesOf(asStanding(*runs), ".obj");
    size_t objects = 0;
    for (size_t at = obj.find("\no "); at != std::string::npos; at = obj.find("\no ", at + 1)) ++objects;
    QCOMPARE(objects, bodies);
    QCOMPARE(sendOut(asStanding(*runs), "/tmp/x.abc")->field, std::string("file"));
}

/// The drives as they move, read by another library: every key is where the run is at that time.
void TestSendOut::motionGoesOutAsKeys() {
    const auto d = openDocument(std::string(VICINAL_SOURCE) + "/examples/saltmarrow-drives.json", {});
    const auto e = evaluate(*d);
    const auto film = filmOf(e, {}, 25, 2.4);
    QVERIFY2(bool(film), film ? "" : film.problem().text.c_str());
    NEAR(film->step, 0.1, 1e-12);
    const std::string bytes = glb(film->frames.front(), &*film);
    Assimp::Importer importer;
    const aiScene* scene = importer.ReadFileFromMemory(bytes.data(), bytes.size(), 0, "glb");
    QVERIFY(scene && scene->mNumAnimations == 1);
    const aiAnimation& a = *scene->mAnimations[0];
    // Every link and plate, both vehicles and their four bogies, and the nine wheels; the mooring chain stands.
    QCOMPARE(e->run(24)->placed->bodies(), size_t(6));
    size_t moving = 9;
    for (Id id : {20, 21, 24, 25}) moving += e->run(id)->placed->bodies();
    QCOMPARE(a.mNumChannels, unsigned(moving));
    std::map<std::string, const aiNodeAnim*> channels;
    for (unsigned c = 0; c < a.mNumChannels; ++c) channels[a.mChannels[c]->mNodeName.C_Str()] = a.mChannels[c];
    QVERIFY(!channels.count("Mooring chain 1"));
    for (size_t k : {0u, 7u, 24u}) {
        const auto then = atTime(e, 0.1 * double(k))->run(20);
        for (size_t i : {0u, 31u, 87u}) {
            const auto* ch = channels.at("Winch drive " + std::to_string(i + 1));
            QCOMPARE(ch->mNumPositionKeys, 25u);
            NEAR(ch->mPositionKeys[k].mTime / a.mTicksPerSecond, 0.1 * double(k), 1e-6);
            const aiVector3D p = ch->mPositionKeys[k].mValue;
            NEAR((Vec3(1000. * p.x, -1000. * p.z, 1000. * p.y) - then->placed->frame(i).seat).norm(), 0, 1e-3);
            if (k > 0) { // the short way from key to key
                const aiQuaternion u = ch->mRotationKeys[k - 1].mValue, v = ch->mRotationKeys[k].mValue;
                QVERIFY(u.w * v.w + u.x * v.x + u.y * v.y + u.z * v.z > 0.7);
            }
        }
    }
    for (const auto& [node, ch] : channels) // of every node, all the way
        for (unsigned k = 1; k < ch->mNumRotationKeys; ++k) {
            const aiQuaternion u = ch->mRotationKeys[k - 1].mValue, v = ch->mRotationKeys[k].mValue;
            QVERIFY2(u.w * v.w + u.x * v.x + u.y * v.y + u.z * v.z > -1e-6, node.c_str());
        }
    const std::string csv = posesCsv(*film);
    QCOMPARE(size_t(std::count(csv.begin(), csv.end(), '\n')),
             1 + 25 * (moving - 9 + e->run(22)->placed->count() + e->run(23)->placed->count()));
    // A bogie has the number of its vehicle, and is where it stands at that time.
    const auto train = atTime(e, 2.4)->run(24);
    const auto* bogie = channels.at("Cradle train 2 Bogie");
    const aiVector3D p = bogie->mPositionKeys[24].mValue;
    double least = 1e300;
    for (size_t b = 2; b < 6; ++b)
        least = std::min(least, (Vec3(1000. * p.x, -1000. * p.z, 1000. * p.y) - train->placed->frame(b).seat).norm());
    NEAR(least, 0, 1e-2);
    QVERIFY(csv.starts_with("time,run,place,part,"));
    // Without a time of its own it lasts as long as the longest of them takes.
    double longest = 0;
    for (const auto& r : e->runs)
        if (r->placed) longest = std::max(longest, onceAlong(*r));
    QVERIFY(longest > 1.5);
    NEAR(made(filmOf(e, {}, 5, 0)).step, longest / 4, 1e-12);
    // What cannot be is said.
    QCOMPARE(filmOf(e, {"Mooring chain"}, 10, 1).problem().field, std::string("motion"));
    QVERIFY(filmOf(e, {"Nobody"}, 10, 1).problem().text.find("\"Nobody\"") != std::string::npos);
    for (long frames : {-3L, 0L, 1L, 20'000L})
        QCOMPARE(filmOf(e, {}, frames, 1).problem().field, std::string("frames"));
    for (double s : {-1., std::nan(""), 1e300}) QCOMPARE(filmOf(e, {}, 5, s).problem().field, std::string("seconds"));
    QVERIFY(sendOut(*film, "/tmp/x.dxf")->text.find(".glb or .csv") != std::string::npos);
}

void TestSendOut::whatCannotBeSentIsNamed() {
    QTemporaryDir dir;
    const auto sound = evaluate(fullDocument());
    for (const char* kind : {"csv", "json", "glb", "dxf"}) { // cancelled: the old file stays
        const std::string file = dir.filePath("old.").toStdString() + kind;
        QVERIFY(!writeAtomically(file, "the old one"));
        const Stop cancel = true;
        const auto problem = sendOut(asStanding(sound->runs), file, &cancel);
        QVERIFY(problem && problem->text.find("cancelled") != std::string::npos);
        QCOMPARE(*readFile(file), std::string("the old one"));
        QVERIFY(!sendOut(asStanding(sound->runs), file));
        QVERIFY(*readFile(file) != "the old one");
    }
    Document d = fullDocument();
    QVERIFY(chosenRuns(*evaluate(Document{})).problem().text.find("no run") != std::string::npos);
    QVERIFY(chosenRuns(*evaluate(d), {"Nope"}).problem().text.find("\"Run 1\"") != std::string::npos);
    RunItem r = *d.runs[0];
    r.spacing->rule = StepOff{0};
    d = with(d, r);
    QVERIFY(chosenRuns(*evaluate(d)).problem().text.find("Run \"Run 1\" cannot be sent out") != std::string::npos);
    const auto good = evaluate(fullDocument());
    QVERIFY(sendOut(asStanding(good->runs), "/tmp/x.pdfx")->text.find(".csv, .json, .dxf, .glb") != std::string::npos);
    QVERIFY(sendOut(asStanding(good->runs), "/nowhere/at/all.csv")->text.find("Choose another folder") !=
            std::string::npos);
}

VICINAL_SUITE(TestSendOut)

} // namespace test_send_out
#include "test_send_out.moc"
