// Deliveries: kept in the document, made into files that other programs read. STEP by OpenCASCADE's reader in a process
// of its own, 3MF by assimp, spreadsheets and lists by Python.
#include "exchange/delivery/make.h"
#include "exchange/out/export_set.h"
#include "layout/spacing/rules.h"
#include "made.h"
#include "model/document/heap.h"
#include "model/document/part_item.h"
#include "model/document/path_item.h"
#include "model/document/run_item.h"
#include "model/documents.h"
#include "model/edits/release.h"
#include "model/edits/yard_edits.h"
#include "model/file/document_file.h"
#include "ran.h"
#include "suite.h"
#include "support.h"
#include <QDir>
#include <QFile>
#include <QJsonArray>
#include <QJsonDocument>
#include <QJsonObject>
#include <QProcess>
#include <QTemporaryDir>
#include <assimp/Importer.hpp>
#include <assimp/postprocess.h>
#include <assimp/scene.h>
#include <fstream>

namespace test_deliveries {

using namespace vicinal;
using namespace vicinal::test;

namespace {

Document quay() {
    return made(openDocument(VICINAL_SOURCE "/examples/saltmarrow-quay.json",
                             [](const Brought& b, const auto& ready) { return readBody(b, ready); }));
}
Delivery delivery(const char* name, SendOrder order, const char* format, std::vector<Id> what = {}) {
    Delivery d;
    d.name = name;
    d.order = std::move(order);
    d.format = format;
    d.what = std::move(what);
    return d;
}

std::vector<OutFile> filesFrom(const Evaluation& e, const Delivery& d) { return made(filesOf(made(prepare(d, e)))); }
std::vector<OutFile> filesFrom(const Document& doc, const Delivery& d) { return filesFrom(*evaluate(doc), d); }
struct StepReport {
    int free = 0;
    std::map<QString, double> shapes;         ///< volume by name
    std::map<QString, double> wires;          ///< length by name
    std::map<QString, QStringList> instances; ///< by name: product, path, then twelve numbers
    int coloured = 0;
};
StepReport stepReport(const std::string& bytes) {
    QTemporaryDir dir;
    write(dir.filePath("x.step"), bytes);
    StepReport out;
    for (const QByteArray& l : ran(VICINAL_BIN "/step_report", {dir.filePath("x.step")}).split('\n')) {
        const QStringList cells = QString::fromUtf8(l).split('\t');
        if (cells[0] == "free") out.free = cells[1].toInt();
        if (cells[0] == "shape") out.shapes[cells[1]] += cells[2].toDouble(), out.coloured += cells[3].toInt();
        if (cells[0] == "wire") out.wires[cells[1]] = cells[2].toDouble();
        if (cells[0] == "instance") out.instances[cells[1]] = cells.mid(2);
    }
    return out;
}

} // namespace

class TestDeliveries : public QObject {
    Q_OBJECT
private slots:
    void stepHasEachPartOnceAndEveryPlace();
    void stepHoldsSizesNamesAndPlainTriangles();
    void fusedIsOneBodyWithTheVolumeOfAll();
    void threeMfIsReadByAssimp();
    void openBodiesGoAsSurface();
    void aFileAPartWithPosesPutsThemTogether();
    void spreadsheetsAndListsAreReadByOthers();
    void coordinatesShiftToASite();
    void cutListCountsAndWeighs();
    void keptInTheDocumentAndMadeAgain();
    void heapsGoOutLikeRuns();
    void railsAndCutsGoOut();
    void siteBodiesGoOutInEveryKind();
    void badOrdersAreRefusedAndNothingIsHalfWritten();
};

void TestDeliveries::stepHasEachPartOnceAndEveryPlace() {
    const Document d = quay();
    const auto e = evaluate(d);
    const auto files = filesFrom(d, delivery("Quay", SolidsOrder{}, "step"));
    QCOMPARE(files.size(), size_t(1));
    QVERIFY(files[0].bytes.find("AP242") != std::string::npos);
    const StepReport r = stepReport(files[0].bytes);
    QCOMPARE(r.free, 1);
    size_t bodies = 0;
    std::map<std::string, const Body*> parts;
    for (const auto& run : e->runs)
        for (size_t i = 0; i < run->placed->bodies(); ++i) {
            if (run->placed->leftOut(i)) continue;
            ++bodies;
            parts[run->placed->part(i).name] = run->placed->part(i).body.get();
        }
    size_t places = 0;
    for (const auto& [name, cells] : r.instances) places += !cells[1].isEmpty() && r.shapes.count(cells[0]);
    QCOMPARE(places, bodies);
    QCOMPARE(r.shapes.size(), parts.size());
    QCOMPARE(size_t(r.coloured), parts.size());
    for (const auto& [name, body] : parts)
        NEAR(r.shapes.at(QString::fromStdString(name)), volumeOf(*body), 1e-6 * volumeOf(*body));
    for (const auto& run : e->runs)
        for (size_t i = 0; i < run->placed->count(); i += 7) {
            if (run->placed->leftOut(i)) continue;
            const auto& cells = r.instances.at(QString("%1 %2").arg(run->item->name.c_str()).arg(i + 1));
            QCOMPARE(cells[0], QString::fromStdString(run->placed->part(i).name));
            QVERIFY(cells[1].endsWith("/" + QString::fromStdString(run->item->name)));
            const Mat4 pose = run->placed->pose(i);
            for (int k = 0; k < 12; ++k) NEAR(cells[2 + k].toDouble(), pose(k / 4, k % 4), k % 4 == 3 ? 1e-6 : 1e-9);
        }
    // Every run's quiet tone, red, green and blue in their order.
    std::vector<Vec3> colours;
    const std::string& bytes = files[0].bytes;
    for (size_t at = bytes.find("COLOUR_RGB("); at != std::string::npos; at = bytes.find("COLOUR_RGB(", at + 1)) {
        Vec3 c;
        QVERIFY(std::sscanf(bytes.c_str() + bytes.find("',", at) + 2, "%lf,%lf,%lf", &c[0], &c[1], &c[2]) == 3);
        colours.push_back(c);
    }
    for (const Vec3& c : colours) {
        const bool known = std::any_of(e->runs.begin(), e->runs.end(), [&](const auto& run) {
            const auto tone = toneOf(run->item->colour);
            return (c - Vec3(tone[0], tone[1], tone[2])).cwiseAbs().maxCoeff() < 1e-6;
        });
        QVERIFY(known);
    }
    QVERIFY(colours.size() > 2); // written once each
    // Paths are wires with their own names and lengths.
    for (const auto& [id, p] : e->paths)
        NEAR(r.wires.at(QString::fromStdString(p->item->name)), p->path->length(), 1e-3 + 1e-6 * p->path->length());
}

void TestDeliveries::stepHoldsSizesNamesAndPlainTriangles() {
    // A name that a file of texts must quote; every second place larger; a part that is only triangles.
    PathItem path;
    path.name = "Line";
    path.recipe = ShapeRecipe{CircleShape{1000}};
    Document d = with(Document(), path);
    PartItem part;
    part.name = "Poller 'Süd' \\ x";
    part.shape = Maker(PlainBox{});
    d = with(d, part);
    RunItem run;
    run.name = "Row; 'a'";
    run.path = 1;
    run.part = 2;
    run.spacing->rule = ShareOut{6};
    for (int k = 2; k <= 6; k += 2) {
        Exception x;
        x.place = k;
        x.size = 2;
        run.exceptions.push_back(x);
    }
    d = with(d, run);
    const StepReport r = stepReport(filesFrom(d, delivery("x", SolidsOrder{}, "step"))[0].bytes);
    QCOMPARE(r.shapes.size(), size_t(2));
    const QString name = QString::fromUtf8("Poller 'Süd' \\ x");
    const double one = r.shapes.at(name), two = r.shapes.at(name + " x2");
    NEAR(two, 8 * one, 1e-6 * two);
    QCOMPARE(r.instances.at("Row; 'a' 3")[0], name);
    QCOMPARE(r.instances.at("Row; 'a' 4")[0], name + " x2");
    // What a further place adds to the file: ten thousand stay under 6 MB.
    const auto bytes = [&](long count) {
        RunItem more = *d.runs[0];
        more.exceptions.clear();
        more.spacing->rule = ShareOut{count};
        return double(filesFrom(with(d, more), delivery("x", SolidsOrder{}, "step"))[0].bytes.size());
    };
    const double each = (bytes(400) - bytes(200)) / 200;
    QVERIFY2(each < 590, qPrintable(QString::number(each)));
    // Triangles alone become plane faces with the same volume.
    const Mesh box = boxMesh(Box3(Vec3(0, 0, 0), Vec3(10, 20, 30)));
    const auto mesh = std::make_shared<const Mesh>(box);
    StepScene scene;
    scene.name = "t";
    scene.shapes.push_back({"Triangles", nullptr, mesh, {0.5, 0.5, 0.5}});
    scene.groups.push_back({"g", {{0, Mat4::Identity(), "one"}}});
    NEAR(stepReport(made(stepOf(scene))).shapes.at("Triangles"), 6000, 1e-6);
}

void TestDeliveries::fusedIsOneBodyWithTheVolumeOfAll() {
    // Boxes 100 long every 60: neighbours overlap by 40; the sum is known.
    PathItem path;
    path.recipe = PointsRecipe{{{Vec3(0, 0, 0), false}, {Vec3(600, 0, 0), false}}, false};
    Document d = with(Document(), path);
    PartItem part;
    PlainBox plain;
    plain.length = 100, plain.width = 30, plain.height = 20;
    part.shape = Maker(plain);
    d = with(d, part);
    RunItem run;
    run.path = 1;
    run.part = 2;
    StepOff rule;
    rule.pitch = 60;
    run.spacing->rule = rule;
    run.spacing->insetStart = 50;
    d = with(d, run);
    SolidsOrder order;
    order.as = SolidsAs::Fused;
    const auto e = evaluate(d);
    const auto n = double(e->runs[0]->placed->count());
    const StepReport r = stepReport(filesFrom(d, delivery("One", order, "step"))[0].bytes);
    QCOMPARE(r.shapes.size(), size_t(1));
    QCOMPARE(r.instances.size(), size_t(1));
    NEAR(r.shapes.begin()->second, (100 + 60 * (n - 1)) * 30 * 20, 1e-3);
    // As triangles too, watertight: assimp joins them to one mesh.
    const auto stl = filesFrom(d, delivery("One", order, "stl"));
    Assimp::Importer importer;
    const aiScene* scene = importer.ReadFileFromMemory(stl[0].bytes.data(), stl[0].bytes.size(), 0, "stl");
    QVERIFY(scene && scene->mNumMeshes == 1);
}

void TestDeliveries::threeMfIsReadByAssimp() {
    const Document d = quay();
    const auto e = evaluate(d);
    const auto bytes = filesFrom(d, delivery("Quay", SolidsOrder{}, "3mf"))[0].bytes;
    Assimp::Importer importer;
    const aiScene* scene = importer.ReadFileFromMemory(bytes.data(), bytes.size(), 0, "3mf");
    QVERIFY2(scene, importer.GetErrorString());
    size_t triangles = 0, bodies = 0;
    std::set<const Mesh*> meshes;
    for (const auto& run : e->runs)
        for (size_t i = 0; i < run->placed->bodies(); ++i) {
            if (run->placed->leftOut(i)) continue;
            ++bodies;
            if (meshes.insert(run->placed->part(i).mesh.get()).second)
                triangles += run->placed->part(i).mesh->triangles.size();
        }
    size_t read = 0;
    for (unsigned k = 0; k < scene->mNumMeshes; ++k) read += scene->mMeshes[k]->mNumFaces;
    QVERIFY2(read >= triangles, qPrintable(QString("%1 %2").arg(read).arg(triangles)));
    // Places and unit by the file's own words.
    QTemporaryDir dir;
    write(dir.filePath("x.3mf"), bytes);
    const auto told = QJsonDocument::fromJson(ran("/usr/bin/python3", {"-c", R"py(
import sys, json, zipfile, xml.etree.ElementTree as E
z = zipfile.ZipFile(sys.argv[1]); assert z.testzip() is None
m = E.fromstring(z.read("3D/3dmodel.model")); n = {"m": "http://schemas.microsoft.com/3dmanufacturing/core/2015/02"}
items = m.findall("m:build/m:item", n)
print(json.dumps({"unit": m.get("unit"), "items": [[i.get("partnumber")] + [float(v) for v in i.get("transform").split()] for i in items],
                  "objects": len(m.findall("m:resources/m:object", n)), "names": z.namelist()}))
)py",
                                                                       dir.filePath("x.3mf")}))
                          .object();
    QCOMPARE(told["unit"].toString(), QString("millimeter"));
    QCOMPARE(size_t(told["items"].toArray().size()), bodies);
    QCOMPARE(size_t(told["objects"].toInt()), meshes.size());
    QCOMPARE(told["names"].toArray()[0].toString(), QString("[Content_Types].xml"));
    const auto run = e->runs[0];
    const auto item = told["items"].toArray()[4].toArray();
    QCOMPARE(item[0].toString(), QString("%1 5").arg(run->item->name.c_str()));
    const Mat4 pose = run->placed->pose(4);
    for (int c = 0; c < 4; ++c)
        for (int r = 0; r < 3; ++r) NEAR(item[1 + 3 * c + r].toDouble(), pose(r, c), 1e-6);
}

/// What encloses nothing is a surface in a 3MF, and said; what does is a model. Each by the name of its part, as a
/// reader by the specification alone finds it.
void TestDeliveries::openBodiesGoAsSurface() {
    const auto boxOf = [](int triangles) { // ASCII: the first triangles of a box's twelve
        const int c[12][3] = {{0, 2, 1}, {1, 2, 3}, {4, 5, 6}, {5, 7, 6}, {0, 1, 4}, {1, 5, 4},
                              {2, 6, 3}, {3, 6, 7}, {0, 4, 2}, {2, 4, 6}, {1, 3, 5}, {3, 7, 5}};
        std::string out = "solid tray\n";
        for (int t = 0; t < triangles; ++t) {
            out += "facet normal 0 0 0\nouter loop\n";
            for (int k : c[t])
                out += "vertex " + std::to_string(40 * (k & 1)) + " " + std::to_string(30 * (k >> 1 & 1)) + " " +
                       std::to_string(20 * (k >> 2)) + "\n";
            out += "endloop\nendfacet\n";
        }
        return out + "endsolid tray\n";
    };
    QTemporaryDir dir;
    PathItem line;
    line.name = "Line";
    line.recipe = PointsRecipe{{{Vec3(0, 0, 0), false}, {Vec3(1000, 0, 0), false}}, false};
    Document d = with(Document(), line);
    for (const auto& [name, triangles] : {std::pair{"Tray", 10}, {"Block", 12}}) {
        const QString file = dir.filePath(QString(name) + ".stl");
        write(file, boxOf(triangles));
        PartItem part;
        part.name = name;
        part.shape = made(shapeOf(made(readPartFile(file.toStdString())), 1));
        d = with(d, part);
        RunItem run;
        run.name = std::string(name) + " run";
        run.path = 1;
        run.part = d.parts.back()->id;
        run.spacing->rule = ShareOut{3};
        d = with(d, run);
    }
    const auto e = evaluate(d);
    const Ready ready = made(prepare(delivery("Both", SolidsOrder{}, "3mf"), *e));
    const auto remarks = ready.remarks;
    const auto told = std::count_if(remarks.begin(), remarks.end(),
                                    [](const std::string& r) { return r.find("open") != std::string::npos; });
    QCOMPARE(told, 1);
    QVERIFY(std::any_of(remarks.begin(), remarks.end(),
                        [](const std::string& r) { return r.starts_with("\"Tray\" is open: it goes as a surface"); }));
    write(dir.filePath("x.3mf"), made(filesOf(ready))[0].bytes);
    const auto objects = QJsonDocument::fromJson(ran("/usr/bin/python3", {"-c", R"py(
import sys, json, zipfile, xml.etree.ElementTree as E
m = E.fromstring(zipfile.ZipFile(sys.argv[1]).read("3D/3dmodel.model"))
n = {"m": "http://schemas.microsoft.com/3dmanufacturing/core/2015/02"}
uses = [i.get("objectid") for i in m.findall("m:build/m:item", n)]
print(json.dumps({o.get("name"): [o.get("type"), len(o.findall(".//m:triangle", n)), uses.count(o.get("id"))]
                  for o in m.findall("m:resources/m:object", n)}))
)py",
                                                                          dir.filePath("x.3mf")}))
                             .object();
    QCOMPARE(objects, (QJsonObject{{"Tray", QJsonArray{"surface", 10, 3}}, {"Block", QJsonArray{"model", 12, 3}}}));
}

void TestDeliveries::aFileAPartWithPosesPutsThemTogether() {
    const Document d = quay();
    const auto e = evaluate(d);
    SolidsOrder order;
    order.as = SolidsAs::FileAPart;
    const auto files = filesFrom(d, delivery("Kit", order, "obj"));
    QVERIFY(files.size() > 3);
    const OutFile& poses = files.front();
    QCOMPARE(poses.name, std::string("Kit-poses.csv"));
    QTemporaryDir dir;
    for (const auto& f : files) write(dir.filePath(f.name.c_str()), f.bytes);
    // Put together by Python: the box of everything is the document's.
    const auto told = QJsonDocument::fromJson(ran("/usr/bin/python3", {"-c", R"py(
import sys, csv, json, os
points, lo, hi, rows = {}, [1e300]*3, [-1e300]*3, 0
for row in csv.DictReader(open(os.path.join(sys.argv[1], "Kit-poses.csv"))):
    f = row["file"]; rows += 1
    if f not in points:
        points[f] = [[float(v) for v in l.split()[1:4]] for l in open(os.path.join(sys.argv[1], f)) if l.startswith("v ")]
    m = [[float(row[k]) for k in ks] for ks in (("m11","m12","m13","x"), ("m21","m22","m23","y"), ("m31","m32","m33","z"))]
    for p in points[f]:
        q = [sum(a*b for a, b in zip(r, p + [1])) for r in m]
        lo = [min(a, b) for a, b in zip(lo, q)]; hi = [max(a, b) for a, b in zip(hi, q)]
print(json.dumps({"lo": lo, "hi": hi, "rows": rows}))
)py",
                                                                       dir.path()}))
                          .object();
    Box3 box;
    int bodies = 0;
    for (const auto& run : e->runs)
        for (size_t i = 0; i < run->placed->bodies(); ++i) {
            if (run->placed->leftOut(i)) continue;
            ++bodies;
            for (const Vec3& p : run->placed->part(i).mesh->points)
                box.extend(Vec3((run->placed->pose(i) * p.homogeneous()).head<3>()));
        }
    QCOMPARE(told["rows"].toInt(), bodies);
    for (int k = 0; k < 3; ++k) {
        NEAR(told["lo"].toArray()[k].toDouble(), box.min()[k], 1e-5);
        NEAR(told["hi"].toArray()[k].toDouble(), box.max()[k], 1e-5);
    }
}

void TestDeliveries::spreadsheetsAndListsAreReadByOthers() {
    const Document d = quay();
    const auto ods = filesFrom(d, delivery("Places", ScheduleOrder{}, "ods"))[0].bytes,
               csv = filesFrom(d, delivery("Places", ScheduleOrder{}, "csv"))[0].bytes,
               json = filesFrom(d, delivery("Places", ScheduleOrder{}, "json"))[0].bytes;
    QCOMPARE(csv, scheduleCsv(made(chosenRunsAndHeaps(*evaluate(d))))); // the schedule, to the letter
    // Counts are written as whole numbers, lengths as what they are.
    QVERIFY2(json.find("\"place\": 1,") != std::string::npos && json.find("\"place\": 1.0") == std::string::npos,
             json.substr(0, 600).c_str());
    QTemporaryDir dir;
    write(dir.filePath("x.ods"), ods);
    write(dir.filePath("x.csv"), csv);
    write(dir.filePath("x.json"), json);
    const auto told = QJsonDocument::fromJson(ran("/usr/bin/python3", {"-c", R"py(
import sys, csv, json, zipfile, xml.etree.ElementTree as E
z = zipfile.ZipFile(sys.argv[1])
first = z.infolist()[0]
m = E.fromstring(z.read("content.xml"))
t, o = "{urn:oasis:names:tc:opendocument:xmlns:table:1.0}", "{urn:oasis:names:tc:opendocument:xmlns:office:1.0}"
x = "{urn:oasis:names:tc:opendocument:xmlns:text:1.0}"
def value(c):
    return float(c.get(o + "value")) if c.get(o + "value-type") == "float" else "".join(p.text or "" for p in c.iter(x + "p"))
rows = [[value(c) for c in r.findall(t + "table-cell")] for r in m.iter(t + "table-row")]
plain = list(csv.reader(open(sys.argv[2])))
deep = json.load(open(sys.argv[3]))["rows"]
same = len(rows) == len(plain) == len(deep) + 1
for a, b, c in zip(rows[1:], plain[1:], deep):
    for u, v, w in zip(a, b, c.values()):
        same = same and (abs(u - float(v)) < 1e-6 and abs(u - w) < 1e-12 * (1 + abs(w)) if isinstance(u, float) else u == v == w)
print(json.dumps({"same": same, "rows": len(rows), "mimetype": first.filename, "stored": first.compress_type == 0, "head": rows[0]}))
)py",
                                                                       dir.filePath("x.ods"), dir.filePath("x.csv"),
                                                                       dir.filePath("x.json")}))
                          .object();
    QVERIFY(told["same"].toBool());
    QCOMPARE(told["mimetype"].toString(), QString("mimetype"));
    QVERIFY(told["stored"].toBool());
    QCOMPARE(told["head"].toArray()[3].toString(), QString("station [mm]"));
    // Columns are chosen; a gap is what the run says.
    ScheduleOrder few;
    few.part = few.angles = few.turn = few.size = few.position = false;
    few.gap = true;
    const auto e = evaluate(d);
    const auto lines =
        QString::fromStdString(filesFrom(d, delivery("x", few, "csv", {e->runs[0]->item->id}))[0].bytes).split('\n');
    QCOMPARE(lines[0], QString("run,place,station,gap along"));
    NEAR(lines[1].split(',')[3].toDouble(), e->runs[0]->placed->gaps[0].clear(), 1e-6);
    // Running dimensions: start, every place, end.
    ScheduleOrder running;
    running.of = ScheduleOf::Running;
    const auto dims =
        QString::fromStdString(filesFrom(d, delivery("x", running, "csv", {e->runs[0]->item->id}))[0].bytes)
            .split('\n', Qt::SkipEmptyParts);
    QCOMPARE(dims.size(), int(e->runs[0]->placed->present) + 3);
    QVERIFY(dims[1].contains(",start,") && dims.back().contains(",end,"));
    NEAR(dims.back().split(',')[3].toDouble(), e->runs[0]->placed->path.length(), 1e-3);
    DrawingOrder views; // which way an oblique view looks matters only with one
    for (const bool oblique : {false, true}) {
        views.oblique = oblique;
        for (const char* key : {"heading", "pitch"}) QCOMPARE(counts(views, key), oblique);
        QVERIFY(counts(views, "plan") && counts(views, "scale"));
    }
    // The same as a tape's list.
    const auto tape = filesFrom(d, delivery("x", TapeOrder{}, "csv", {e->runs[0]->item->id}))[0].bytes;
    QCOMPARE(QString::fromStdString(tape).split('\n', Qt::SkipEmptyParts).size(), dims.size());
}

void TestDeliveries::coordinatesShiftToASite() {
    const Document d = quay();
    ScheduleOrder o;
    o.origin = Vec3(1000, -2000, 50);
    o.north = 30 * kDegree;
    const auto e = evaluate(d);
    const Id id = e->runs[0]->item->id;
    const auto plain =
        QString::fromStdString(filesFrom(d, delivery("x", ScheduleOrder{}, "csv", {id}))[0].bytes).split('\n');
    const auto moved_ = QString::fromStdString(filesFrom(d, delivery("x", o, "csv", {id}))[0].bytes).split('\n');
    for (int row : {1, 20, 60}) {
        const auto a = plain[row].split(','), b = moved_[row].split(',');
        const double x = a[4].toDouble() - 1000, y = a[5].toDouble() + 2000;
        // Their y axis leads 30 degrees to the right of ours: a point along it has only a y.
        const Vec2 north(std::sin(30 * kDegree), std::cos(30 * kDegree)), east(north.y(), -north.x());
        NEAR(b[4].toDouble(), x * east.x() + y * east.y(), 2e-6);
        NEAR(b[5].toDouble(), x * north.x() + y * north.y(), 2e-6);
        NEAR(b[6].toDouble(), a[6].toDouble() - 50, 2e-6);
        NEAR(std::remainder(b[7].toDouble() - a[7].toDouble() - 30, 360), 0, 2e-6);
        // Heading and quaternion say the same.
        const Quat q(b[10].toDouble(), b[11].toDouble(), b[12].toDouble(), b[13].toDouble());
        NEAR(std::remainder(anglesOf(q.toRotationMatrix()).heading / kDegree - b[7].toDouble(), 360), 0, 1e-4);
    }
}

void TestDeliveries::cutListCountsAndWeighs() {
    Document d = quay();
    for (const auto& p : std::vector(d.parts)) {
        PartItem part = *p;
        part.density = 700;
        d = with(d, part);
    }
    const auto e = evaluate(d);
    ScheduleOrder o;
    o.of = ScheduleOf::Parts;
    const auto rows =
        QJsonDocument::fromJson(QByteArray::fromStdString(filesFrom(d, delivery("Cut list", o, "json"))[0].bytes))
            .object()["rows"]
            .toArray();
    std::map<QString, int> counts;
    double weight = 0;
    for (const auto& run : e->runs)
        for (size_t i = 0; i < run->placed->bodies(); ++i) {
            if (run->placed->leftOut(i)) continue;
            ++counts[QString::fromStdString(run->placed->part(i).name)];
            weight += 700 * 1e-9 * volumeOf(*run->placed->part(i).body) * std::pow(run->placed->laid->size[i], 3);
        }
    int all = 0;
    for (int k = 0; k + 1 < rows.size(); ++k) {
        counts[rows[k].toObject()["part"].toString()] -= rows[k].toObject()["count"].toInt();
        all += rows[k].toObject()["count"].toInt();
    }
    for (const auto& [name, left] : counts) QCOMPARE(left, 0);
    const auto last = rows.last().toObject();
    QCOMPARE(last["part"].toString(), QString("all"));
    QCOMPARE(last["count"].toInt(), all);
    NEAR(last["weight"].toDouble(), weight, 1e-9 * weight);
}

void TestDeliveries::keptInTheDocumentAndMadeAgain() {
    Document d = quay();
    const size_t before = d.deliveries.size(); // those of the demo
    int n = 0;
    for (size_t k = 0; k < std::variant_size_v<SendOrder>; ++k) {
        const SendOrder order = alternative<SendOrder>(k);
        for (const char* f : formatsOf(order))
            d = with(d, delivery(("D" + std::to_string(++n)).c_str(), order, f, {d.runs[0]->id}));
    }
    Delivery drawing = delivery("Sheet", DrawingOrder{}, "pdf");
    drawing.fields = {{"Drawn by", "M. Tollan"}, {"Note", "\"quoted\", <&>"}};
    std::get<DrawingOrder>(drawing.order).scale = 200;
    drawing.folder = "out";
    d = with(d, drawing);
    d = withHidden(d, {d.runs[1]->id, d.paths[2]->id}, true);
    QTemporaryDir dir;
    const std::string file = dir.filePath("x.vicinal").toStdString();
    QVERIFY(!saveDocument(d, file));
    const Document read = made(openDocument(file, [](const Brought& b, const auto& r) { return readBody(b, r); }));
    QCOMPARE(read.deliveries.size(), before + size_t(n) + 1);
    for (size_t k = 0; k < read.deliveries.size(); ++k) QVERIFY(*read.deliveries[k] == *d.deliveries[k]);
    QVERIFY(read.runs[1]->hidden && read.paths[2]->hidden && !read.runs[0]->hidden && !read.paths[0]->hidden);
    QVERIFY(hidesAnything(read) && !hidesAnything(showingAll(read)));
    QVERIFY(withHidden(read, {read.runs[1]->id}, true).runs[1] == read.runs[1]); // nothing new: the same object
    QCOMPARE(folderOf(*read.deliveries.back(), "/a/b/x.vicinal").string(), std::string("/a/b/out"));
    // Made into a folder, twice: the same bytes.
    const auto e = evaluate(read);
    std::map<std::string, std::string> first;
    for (int round = 0; round < 2; ++round)
        for (const auto& x : read.deliveries) {
            if (needsWindow(*x)) continue;
            const auto files = made(filesOf(made(prepare(*x, *e))));
            QVERIFY(!files.empty() && files[0].name == fileNameOf(*x));
            for (const auto& f : files) {
                if (f.name.ends_with(".pdf") || f.name.ends_with(".step")) continue; // these carry a date
                if (round == 0)
                    first[f.name] = f.bytes;
                else
                    QVERIFY2(first[f.name] == f.bytes, f.name.c_str());
            }
        }
    // A run that is deleted is no longer asked for; the last one stays asked for, and is told.
    Document less = with(read, delivery("Two", SolidsOrder{}, "glb", {read.runs[0]->id, read.runs[1]->id}));
    const Id two = lastId(less);
    less = without(less, read.runs[0]->id);
    QCOMPARE(less.delivery(two)->what, std::vector<Id>{read.runs[1]->id});
    less = without(less, read.runs[1]->id);
    const auto gone = prepare(*less.delivery(two), *evaluate(less));
    QVERIFY(!gone && gone.problem().text.find("not in the document any more") != std::string::npos);
}

void TestDeliveries::heapsGoOutLikeRuns() {
    const Document d = quay();
    const auto e = evaluate(d);
    const auto run = e->runs[0];
    const auto before = made(chosenRunsAndHeaps(*e, {run->item->name}));
    for (PathStays stays : {PathStays::Kept, PathStays::Hidden, PathStays::Gone}) {
        const Document loose = made(released(d, *run, stays));
        QCOMPARE(loose.runs.size(), d.runs.size() - 1);
        QCOMPARE(loose.heaps.size(), size_t(1));
        const auto path = loose.path(run->item->path);
        QCOMPARE(path != nullptr, stays != PathStays::Gone);
        if (path) QCOMPARE(path->hidden, stays == PathStays::Hidden);
        // Read back from its file, every part stands where the place stood.
        const Document read = made(fromJson(
            toJson(loose),
            [&](const std::string& name) -> std::optional<std::string> {
                for (const auto& [n, bytes] : assetsOf(loose))
                    if (n == name) return *bytes;
                return std::nullopt;
            },
            [](const Brought& b, const auto& r) { return readBody(b, r); }));
        const auto now = evaluate(read);
        const auto heap = now->heap(read.heaps[0]->id);
        QVERIFY(heap && heap->instances && !heap->problem);
        QCOMPARE(heap->present(), run->placed->present);
        size_t k = 0;
        for (size_t i = 0; i < run->placed->bodies(); ++i) {
            if (run->placed->leftOut(i)) continue;
            QVERIFY((heap->instances->pose(k) - run->placed->pose(i)).cwiseAbs().maxCoeff() < 1e-9);
            QCOMPARE(read.heaps[0]->parts[k].place, long(i) + 1);
            ++k;
        }
        const Id id = heap->item->id;
        // In every kind of file.
        for (const char* f : {"step", "glb", "dxf", "obj", "stl", "ply", "3mf"})
            QVERIFY(!filesFrom(read, delivery("x", SolidsOrder{}, f, {id}))[0].bytes.empty());
        QCOMPARE(filesFrom(read, delivery("x", SolidsOrder{}, "stl", {id}))[0].bytes.size(),
                 meshesOf(before, ".stl").value().size());
        for (const char* f : {"pdf", "svg", "dxf"}) {
            QVERIFY(!filesFrom(read, delivery("x", DrawingOrder{}, f, {id}))[0].bytes.empty());
            TemplateOrder paper;
            paper.paper = Paper::A2;
            QVERIFY(!filesFrom(read, delivery("x", paper, f, {id}))[0].bytes.empty());
        }
        QCOMPARE(
            QString::fromStdString(filesFrom(read, delivery("x", ScheduleOrder{}, "csv", {id}))[0].bytes).count('\n'),
            run->placed->present + 1);
        // Moved, turned, swapped, deleted one by one; frozen, none of that.
        const Vec3 seat = read.heaps[0]->parts[3].frame.seat;
        const Mat3 R = Eigen::AngleAxisd(kPi / 2, Vec3::UnitZ()).toRotationMatrix();
        Document edited = made(movedLoose(read, id, {3, 5}, Vec3(10, 0, 5), R, seat));
        NEAR((edited.heaps[0]->parts[3].frame.seat - seat - Vec3(10, 0, 5)).norm(), 0, 1e-9);
        QVERIFY((edited.heaps[0]->parts[3].frame.axes - R * read.heaps[0]->parts[3].frame.axes).norm() < 1e-12);
        const Vec3 arm = read.heaps[0]->parts[5].frame.seat - seat;
        NEAR((edited.heaps[0]->parts[5].frame.seat - seat - Vec3(10, 0, 5) - R * arm).norm(), 0, 1e-9);
        QCOMPARE(edited.heaps[0]->parts[4].frame.seat, read.heaps[0]->parts[4].frame.seat);
        edited = made(swappedLoose(edited, id, {0}, d.parts[1]->id));
        edited = made(withoutLoose(edited, id, {1, 2}));
        QCOMPARE(edited.heaps[0]->parts.size(), read.heaps[0]->parts.size() - 2);
        QCOMPARE(evaluate(edited)->heap(id)->partAt(0).id, d.parts[1]->id);
        HeapItem frozen = *edited.heaps[0];
        frozen.frozen = true;
        edited = with(edited, frozen);
        for (const auto& refused : {movedLoose(edited, id, {0}, Vec3(1, 0, 0)), withoutLoose(edited, id, {0}),
                                    swappedLoose(edited, id, {0}, d.parts[0]->id)})
            QVERIFY(!refused && refused.problem().text.find("frozen") != std::string::npos);
        QVERIFY(!movedLoose(read, id, {0}, Vec3(std::nan(""), 0, 0)));
        // Its part deleted: told, the others stay.
        Document less = without(read, read.heaps[0]->parts[0].part);
        const auto broken = evaluate(less)->heap(id);
        QVERIFY(broken->problem && broken->problem->text.find("deleted") != std::string::npos);
        // Of two kinds of parts the others stay, with their numbers, and go out.
        const Document two = made(swappedLoose(read, id, {0, 4}, d.parts[1]->id));
        const auto half = evaluate(without(two, d.parts[1]->id));
        QCOMPARE(half->heap(id)->present(), run->placed->present - 2);
        QVERIFY(half->heap(id)->instances->leftOut(0) && half->heap(id)->instances->leftOut(4) &&
                !half->heap(id)->instances->leftOut(3));
        // A path that is hidden goes only when it is asked for.
        if (path) {
            const auto all = made(exportSetOf(*now, {})), asked = made(exportSetOf(*now, {path->id}));
            QCOMPARE(all.paths.size(), read.paths.size() - (stays == PathStays::Hidden));
            QCOMPARE(asked.paths.size(), size_t(1));
        }
        // Deliveries that asked for the run ask for the heap.
        const Document asked = with(d, delivery("x", SolidsOrder{}, "glb", {run->item->id}));
        QCOMPARE(made(released(asked, *run, stays)).deliveries.back()->what,
                 std::vector<Id>{made(released(asked, *run, stays)).heaps[0]->id});
    }
}

void TestDeliveries::siteBodiesGoOutInEveryKind() {
    const Document d = made(openDocument(VICINAL_SOURCE "/examples/saltmarrow-site.json",
                                         [](const Brought& b, const auto& ready) { return readBody(b, ready); }));
    const auto e = evaluate(d);
    std::vector<Id> bodies;
    for (const auto& b : d.bodies) bodies.push_back(b->id);
    // STEP: one shape each with its volume, where it stands; ground as it is, a mesh.
    const StepReport r = stepReport(filesFrom(*e, delivery("Site", SolidsOrder{}, "step", bodies))[0].bytes);
    for (const char* name : {"Quay wall", "Boat ramp", "Dolphin pile", "Mooring pad"}) {
        Id id = 0;
        for (const auto& b : d.bodies) id = b->name == name ? b->id : id;
        const double v = volumeOf(*e->bodies.at(id)->body);
        NEAR(r.shapes.at(name), v, 1e-6 * v);
        const Ground& ground = *e->bodies.at(id)->ground;
        bool found = false;
        for (const auto& [instance, cells] : r.instances) {
            if (cells[0] != name) continue;
            found = true;
            for (int i = 0; i < 3; ++i) NEAR(cells[2 + 4 * i + 3].toDouble(), ground.origin()[i], 1e-6);
        }
        QVERIFY2(found, name);
    }
    // Every other kind holds them: by their names, or by so many triangles.
    SolidsOrder rough;
    rough.within = 5;
    for (const char* format : {"glb", "dxf", "obj", "stl", "ply", "3mf"})
        QVERIFY2(filesFrom(*e, delivery("Site", rough, format, bodies))[0].bytes.size() > 4'000, format);
    const std::string glb = filesFrom(*e, delivery("Site", rough, "glb", bodies))[0].bytes;
    for (const auto& b : d.bodies) QVERIFY2(glb.find(b->name) != std::string::npos, b->name.c_str());
    ScheduleOrder list;
    list.raised = true;
    const std::string csv = filesFrom(*e, delivery("List", list, "csv"))[0].bytes;
    for (const auto& b : d.bodies) QCOMPARE(csv.find(b->name + ",") != std::string::npos, !b->hidden);
    QVERIFY(csv.substr(0, csv.find('\n')).find("raised") != std::string::npos);
    list.of = ScheduleOf::Parts;
    const std::string parts = filesFrom(*e, delivery("Parts", list, "csv"))[0].bytes;
    QVERIFY(parts.find("Quay wall") != std::string::npos);
    for (const char* format : {"svg", "pdf", "dxf"}) {
        QVERIFY(!filesFrom(*e, delivery("Drawing", DrawingOrder{}, format, bodies))[0].bytes.empty());
        QVERIFY(!filesFrom(*e, delivery("Template", TemplateOrder{}, format, {53, 54}))[0].bytes.empty());
    }
    PictureOrder lines;
    lines.of = PictureOf::Lines;
    QVERIFY(filesFrom(*e, delivery("Lines", lines, "svg", bodies))[0].bytes.size() > 2000);
}

void TestDeliveries::badOrdersAreRefusedAndNothingIsHalfWritten() {
    const Document d = quay();
    const auto e = evaluate(d);
    const auto refused = [&](const Delivery& x) {
        const auto r = prepare(x, *e);
        if (r) {
            const auto f = filesOf(*r);
            return f ? QString("fine") : QString::fromStdString(f.problem().text);
        }
        return QString::fromStdString(r.problem().text);
    };
    DrawingOrder none;
    none.plan = none.front = false;
    QVERIFY(refused(delivery("x", none, "pdf")).contains("No view"));
    DrawingOrder tight;
    tight.scale = 1;
    QVERIFY(refused(delivery("x", tight, "pdf")).contains("do not fit. 1 : "));
    tight.scale = -3;
    QVERIFY(refused(delivery("x", tight, "pdf")).contains("not believable"));
    PictureOrder lines;
    lines.of = PictureOf::Lines;
    lines.width = 3;
    QVERIFY(refused(delivery("x", lines, "svg")).contains("16 to 16384"));
    QVERIFY(refused(delivery("x", SolidsOrder{}, "doc")).contains("Use .step"));
    QVERIFY(refused(delivery("x", SolidsOrder{}, "step", {4711})).contains("not in the document"));
    QVERIFY(refused(delivery("x", ScheduleOrder{}, "csv", {d.paths[0]->id})).contains("Tick a run"));
    QVERIFY(refused(delivery("x", SolidsOrder{}, "stl", {d.paths[0]->id})).contains("would be empty"));
    ScheduleOrder far;
    far.origin = Vec3(1e300, 0, 0);
    QVERIFY(refused(delivery("x", far, "csv")).contains("origin"));
    TemplateOrder face;
    face.plane = TemplatePlane::Face;
    face.normal = Vec3::Zero();
    QVERIFY(refused(delivery("x", face, "pdf")).contains("face"));
    // A name in a script that the font has not.
    QVERIFY(refused(delivery("\u0416", DrawingOrder{}, "pdf")).contains("Latin"));
    // Cancelled: nothing is written, the old file stays; a folder in the way, or one that cannot be made, is told.
    QTemporaryDir dir;
    write(dir.filePath("x.step"), "old");
    Job stopped_;
    stopped_.stop = true;
    QVERIFY(!prepare(delivery("x", SolidsOrder{}, "step"), *e, &stopped_));
    const auto ready = made(prepare(delivery("x", SolidsOrder{}, "step"), *e));
    QVERIFY(!filesOf(ready, &stopped_));
    const auto files = made(filesOf(ready));
    const auto written = [](const std::vector<OutFile>& all, const QString& folder, const Stop* stop = nullptr) {
        WrittenFiles so;
        return writeFiles(all, folder.toStdString(), so, stop);
    };
    QVERIFY(written(files, dir.path(), &stopped_.stop));
    QFile old(dir.filePath("x.step"));
    QVERIFY(old.open(QIODevice::ReadOnly) && old.readAll() == "old");
    QVERIFY(!written(files, dir.path()));
    QVERIFY(QDir(dir.path()).mkdir("y.step"));
    auto other = files;
    other[0].name = "y.step";
    QVERIFY(written(other, dir.path()));
    QVERIFY(written(files, dir.filePath("no/such/folder"))->text.find("cannot be made") != std::string::npos);
    QVERIFY(!written(files, dir.filePath("new")));
    QVERIFY(QFile::exists(dir.filePath("new/x.step")));
    // Letters beyond ASCII stay whole, also where a long name is cut, and in a file a part.
    const std::string umlauts =
        fileNameOf(delivery(std::string(150, 'a').append("\u00fc\u00fc").c_str(), SolidsOrder{}, "stl"));
    QVERIFY(umlauts.find("\u00fc\u00fc.stl") != std::string::npos);
    std::string many = "a";
    for (int k = 0; k < 150; ++k) many += "\u00fc";
    QVERIFY(QString::fromStdString(fileNameOf(delivery(many.c_str(), SolidsOrder{}, "stl"))).contains(QChar(0xfffd)) ==
            false);
    Document named = d;
    PartItem lamp = *d.parts[0];
    lamp.name = "S\u00fcd/1";
    named = with(named, lamp);
    SolidsOrder kit;
    kit.as = SolidsAs::FileAPart;
    QCOMPARE(filesFrom(named, delivery("K", kit, "stl", {d.runs[0]->id}))[1].name, std::string("K-S\u00fcd_1.stl"));
    QCOMPARE(fileNameOf(delivery("a/b: \"c\"", SolidsOrder{}, "stl")), std::string("a_b_ _c_.stl"));
}

/// Rails and cut plates of the site: exact solids, outlines with true arcs, cut lists.
void TestDeliveries::railsAndCutsGoOut() {
    constexpr Id kMiddle = 83, kCover = 86, kSide = 90, kFoot = 82;
    const Document d = made(openDocument(VICINAL_SOURCE "/examples/saltmarrow-site.json",
                                         [](const Brought& b, const auto& ready) { return readBody(b, ready); }));
    const auto e = evaluate(d);
    const auto step = filesFrom(d, delivery("Metal", SolidsOrder{}, "step", {kMiddle, kCover, kSide, kFoot}))[0].bytes;
    const StepReport report = stepReport(step);
    for (Id id : {kMiddle, kCover, kSide, kFoot}) {
        const auto body = e->bodies.at(id);
        QVERIFY2(!body->problem, body->problem ? body->problem->text.c_str() : "");
        const auto found = report.shapes.find(QString::fromStdString(body->item->name));
        QVERIFY2(found != report.shapes.end(), body->item->name.c_str());
        NEAR(found->second, volumeOf(*body->body), 1e-4 * found->second);
    }
    const double slot = 18 * 102 + kPi * 81; // 120 long over all
    NEAR(report.shapes.at("Drain cover"), 24 * (kPi * 420 * 420 - 40 * slot), 1);
    // Read again: one face all round, two flat ones, four a slot.
    QTemporaryDir dir;
    write(dir.filePath("cover.step"), filesFrom(d, delivery("Cover", SolidsOrder{}, "step", {kCover}))[0].bytes);
    const auto file = made(readPartFile(dir.filePath("cover.step").toStdString()));
    QCOMPARE(faceCount(*solidOf(*file.brought.body)), 3 + 4 * 40);
    // For a cutting machine: arcs and lines, not hundreds of chords.
    TemplateOrder flat;
    flat.numbers = flat.noses = flat.paths = false;
    write(dir.filePath("cover.dxf"), filesFrom(d, delivery("Cover", flat, "dxf", {kCover}))[0].bytes);
    const auto told = QJsonDocument::fromJson(ran("/usr/bin/python3", {"-c", R"py(
import ezdxf, json, sys
count = {}
reach = 0
for e in ezdxf.readfile(sys.argv[1]).modelspace().query("*"):
    count[e.dxftype()] = count.get(e.dxftype(), 0) + 1
    if e.dxftype() == "ARC": reach = max(reach, e.dxf.radius)
    if e.dxftype() == "CIRCLE": reach = max(reach, e.dxf.radius)
print(json.dumps({"count": count, "reach": reach}))
)py",
                                                                       dir.filePath("cover.dxf")}))
                          .object();
    const QJsonObject count = told["count"].toObject();
    const int arcs = count["ARC"].toInt() + count["CIRCLE"].toInt();
    QVERIFY2(arcs >= 81 && arcs <= 90, qPrintable(QString::fromUtf8(QJsonDocument(told).toJson())));
    NEAR(told["reach"].toDouble(), 420, 1e-6);
    // Every bar is a row, every hole has its web.
    ScheduleOrder list;
    list.of = ScheduleOf::Bars;
    const auto rows = [&](const std::vector<Id>& what) {
        return QString::fromStdString(filesFrom(d, delivery("L", list, "csv", what))[0].bytes)
            .split('\n', Qt::SkipEmptyParts);
    };
    const auto bars = rows({kMiddle});
    QCOMPARE(size_t(bars.size()), 1 + e->bodies.at(kMiddle)->bars.size());
    double length = 0;
    for (int i = 1; i < bars.size(); ++i) length += bars[i].split(',')[3].toDouble();
    NEAR(length * kPi * 13 * 13, report.shapes.at("Middle rails"), 20);
    list.of = ScheduleOf::Webs;
    QCOMPARE(rows({kCover}).size(), 1 + 40);
    list.of = ScheduleOf::Bars;
    QVERIFY(!prepare(delivery("L", list, "csv", {kCover}), *e)); // no rails among that
}

VICINAL_SUITE(TestDeliveries)

} // namespace test_deliveries
#include "test_deliveries.moc"
