// Parts from files: STEP by OpenCASCADE's own writer, meshes by assimp's exporters, outlines by ezdxf; and bad ones.
#include "exchange/in/bring_in.h"
#include "exchange/step_writer.h"
#include "model/document/part_item.h"
#include "model/documents.h"
#include "suite.h"
#include <QProcess>
#include <assimp/Exporter.hpp>
#include <assimp/scene.h>
#include <set>
#include <thread>

namespace test_parts_in {

using namespace vicinal;
using namespace vicinal::test;

namespace {

/// The body again in assimp's structures, written by its exporter. glTF is in metres with y up.
std::string exported(const Mesh& mesh, const char* format) {
    const bool gltf = std::string(format).starts_with("gl");
    aiScene scene;
    scene.mRootNode = new aiNode("root");
    scene.mMaterials = new aiMaterial* [1] { new aiMaterial };
    scene.mNumMaterials = 1;
    auto* m = new aiMesh;
    m->mNumVertices = unsigned(mesh.points.size());
    m->mVertices = new aiVector3D[m->mNumVertices];
    for (size_t i = 0; i < mesh.points.size(); ++i) {
        const Vec3 p =
            gltf ? Vec3(Vec3(mesh.points[i].x(), mesh.points[i].z(), -mesh.points[i].y()) / 1000) : mesh.points[i];
        m->mVertices[i] = aiVector3D(float(p.x()), float(p.y()), float(p.z()));
    }
    m->mNumFaces = unsigned(mesh.triangles.size());
    m->mFaces = new aiFace[m->mNumFaces];
    for (size_t i = 0; i < mesh.triangles.size(); ++i) {
        m->mFaces[i].mNumIndices = 3;
        const auto& t = mesh.triangles[i];
        m->mFaces[i].mIndices = new unsigned[3]{t[0], t[1], t[2]};
    }
    m->mPrimitiveTypes = aiPrimitiveType_TRIANGLE;
    scene.mMeshes = new aiMesh* [1] { m };
    scene.mNumMeshes = 1;
    scene.mRootNode->mMeshes = new unsigned[1]{0};
    scene.mRootNode->mNumMeshes = 1;
    Assimp::Exporter exporter;
    const auto* blob = exporter.ExportToBlob(&scene, format);
    if (!blob) return {};
    std::string out(static_cast<const char*>(blob->data), blob->size);
    if (std::string(format) ==
        "gltf2") // its buffer comes as a second file: put inside, as files from elsewhere have it
        for (const auto* b = blob->next; b; b = b->next) {
            const std::string name = std::string("$blobfile.") + b->name.C_Str();
            const QByteArray data = QByteArray(static_cast<const char*>(b->data), qsizetype(b->size)).toBase64();
            if (const auto at = out.find(name); at != std::string::npos)
                out.replace(at, name.size(), "data:application/octet-stream;base64," + data.toStdString());
        }
    return out;
}

BodyPtr madeBody(const Maker& m) { return *bodyOf(make(m)); }

const std::string kExamples = VICINAL_SOURCE "/examples/";

} // namespace

class TestPartsIn : public QObject {
    Q_OBJECT
private slots:
    void stepKeepsSolidsNamesAndUnits();
    void stepWithRationalFacesIsMeasuredRight();
    void stepStopsAndTellsHowFarItIs();
    void pinsOfTheShippedLink();
    void oneBodyOrAll();
    void fiveMeshFormatsMeasureTheSame_data();
    void fiveMeshFormatsMeasureTheSame();
    void aBufferBesideIsTakenIn();
    void openAndBranchingMeshesAreReported();
    void outlinesBecomeParts();
    void badFilesAreNamed_data();
    void badFilesAreNamed();
};

void TestPartsIn::stepKeepsSolidsNamesAndUnits() {
    QTemporaryDir dir;
    std::vector<NamedSolid> bodies;
    const Mat3 R = someRotation();
    for (const Maker& m : std::initializer_list<Maker>{RoundLink{}, RollerLink{}, TreadPlate{}, Sleeper{},
                                                       BollardLamp{}, Bracket{}, SteppingStone{}, Tube{}})
        if (solidCount(*solidOf(*madeBody(m))) == 1) // others are several bodies to a file
            bodies.push_back({"Part of " + kindOf(m), moved(solidOf(*madeBody(m)), R, Vec3(5000, -300, 70))});
    for (const char* unit : {"MM", "INCH", "M"}) {
        const std::string file = dir.filePath(QString("all-") + unit + ".step").toStdString();
        QVERIFY(writeBodies(file, bodies, unit));
        const auto read = readStepBodies(file);
        QVERIFY2(bool(read), read ? "" : read.problem().text.c_str());
        QCOMPARE(read->bodies.size(), bodies.size());
        for (size_t i = 0; i < bodies.size(); ++i) {
            const auto &a = *bodies[i].solid, &b = *read->bodies[i].solid;
            QCOMPARE(read->bodies[i].name, bodies[i].name);
            NEAR(volumeOf(b), volumeOf(a), 1e-7 * volumeOf(a));
            NEAR(areaOf(b), areaOf(a), 1e-7 * areaOf(a));
            QCOMPARE(faceCount(b), faceCount(a));
            NEAR((centreOf(b) - centreOf(a)).norm(), 0, 1e-5);
        }
        // The unit is the file's own; the result is in millimetres whatever it is.
        const std::string word = read->unit;
        QVERIFY2(word.find(std::string(unit) == "INCH" ? "nch" : "met") != std::string::npos || word == unit,
                 word.c_str());
    }
}

void TestPartsIn::stepWithRationalFacesIsMeasuredRight() {
    const Ring ellipse{ellipseArc({10, 20, 0}, {80, 0, 0}, {0, 30, 0}, 0, 2 * kPi)};
    const auto prism = extruded(std::vector<Ring>{ellipse}, 0, 50);
    const auto disc = extruded(std::vector<Ring>{{Arc{{0, 0, 0}, Vec3::UnitX(), Vec3::UnitY(), 25, 2 * kPi}}}, 0, 8);
    QVERIFY(prism && disc);
    QTemporaryDir dir;
    const std::string file = dir.filePath("rational.step").toStdString();
    QVERIFY(writeBodies(file, {{"prism", *prism}, {"as splines", asRational(*prism)}, {"disc", asRational(*disc)}}));
    const auto read = readStepBodies(file);
    QVERIFY2(bool(read), read ? "" : read.problem().text.c_str());
    QCOMPARE(read->bodies.size(), size_t(3));
    for (size_t i : {0, 1}) {
        const SolidMeasures m = measuresOf(*read->bodies[i].solid);
        NEAR(m.volume, kPi * 80 * 30 * 50, 1e-3);
        NEAR((m.centre - Vec3(10, 20, 25)).norm(), 0, 1e-6);
        const Box3 box = boxOf(*read->bodies[i].solid);
        NEAR((box.min() - Vec3(-70, -10, 0)).norm() + (box.max() - Vec3(90, 50, 50)).norm(), 0, 1e-6);
    }
    const SolidMeasures m = measuresOf(*read->bodies[2].solid);
    NEAR(m.volume, kPi * 625 * 8, 1e-4);
    NEAR(m.area, 2 * kPi * 625 + 2 * kPi * 25 * 8, 1e-4);
}

void TestPartsIn::stepStopsAndTellsHowFarItIs() {
    QTemporaryDir dir;
    const std::string file = dir.filePath("sieve.step").toStdString();
    QVERIFY(writeBodies(file, {sieve(16)}));
    Progress progress = 0;
    const auto whole = readPartFile(file, nullptr, &progress);
    QVERIFY(bool(whole));
    QCOMPARE(whole->bodies.size(), size_t(1));
    NEAR(volumeOf(*whole->bodies[0].solid), (170.0 * 170 - 256 * kPi * 9) * 4, 1e-4);
    QVERIFY(progress > 0.3);
    // Stopped from another thread as soon as it has got somewhere; the text that was read is dropped.
    Stop stop = false;
    progress = 0;
    std::thread other([&] {
        while (progress < 0.3) std::this_thread::yield();
        stop = true;
    });
    const auto cut = readStepBodies(file, &stop, &progress);
    other.join();
    QVERIFY(!cut);
    QCOMPARE(cut.problem().text, cancelled().text);
}

void TestPartsIn::pinsOfTheShippedLink() {
    const auto file = readPartFile(kExamples + "winch-link.step");
    QVERIFY2(bool(file), file ? "" : file.problem().text.c_str());
    QCOMPARE(file->bodies[0].name, std::string("Winch link"));
    const auto shape = shapeOf(*file, file->millimetresPerUnit);
    const auto body = build(*shape);
    const auto proposals = proposalsFor(**body);
    QVERIFY(!proposals.empty() && proposals[0].kind == Proposal::Kind::TwoHoles);
    const Seat& seat = proposals[0].seat;
    const Mat3 R = (Eigen::AngleAxisd(20 * kDegree, Vec3::UnitZ()) * Eigen::AngleAxisd(12 * kDegree, Vec3::UnitX()))
                       .toRotationMatrix();
    const Vec3 t(1250, -340, 96), x = R.col(0);
    for (const Vec3& pin : *seat.pins) // as drawn: 38.1 mm either side of the middle, half-way through the plate
        NEAR(std::min((pin - t - 38.1 * x).norm(), (pin - t + 38.1 * x).norm()), 0, 1e-6);
    NEAR(((*seat.pins)[1] - (*seat.pins)[0]).norm(), 76.2, 1e-6);
    NEAR(std::abs(seat.nose.v.dot(x)), 1, 1e-12);
    NEAR((seatPoint(seat, (*body)->mesh->box) - t).norm(), 0, 1e-6);
    const Measures m = measuresOf(**body, seat);
    NEAR(m.length(), 76.2 + 36, 1e-6); // whatever the file's axes: between the outer ends
    NEAR(m.width() * m.height(), 36 * 8.0, 1e-4);
    NEAR(*m.pinDistance, 76.2, 1e-6);
    QVERIFY(farOrigin((*body)->mesh->box) > 1);
}

void TestPartsIn::oneBodyOrAll() {
    const auto file = readPartFile(kExamples + "fairlead.step");
    QVERIFY2(bool(file), file ? "" : file.problem().text.c_str());
    QCOMPARE(file->bodies.size(), size_t(2));
    QCOMPARE(file->bodies[0].name, std::string("Fairlead base"));
    const double base = 220.0 * 110 * 14 - 4 * kPi * 6.5 * 6.5 * 14;
    const auto one = build(*shapeOf(*file, 1, {0})), both = build(*shapeOf(*file, 1, {0, 1})),
               all = build(*shapeOf(*file, 1));
    NEAR(volumeOf(**one), base, 1e-6 * base);
    NEAR(volumeOf(**both), volumeOf(**all), 1e-9 * base);
    QVERIFY(volumeOf(**all) > base + 100'000);
    // Saved and opened, the chosen body comes back, with and without the ready copy beside the file.
    Document d;
    PartItem item;
    item.name = "Base";
    item.shape = *shapeOf(*file, 1, {0});
    d = with(d, item);
    QTemporaryDir dir;
    const auto path = dir.filePath("base.vicinal").toStdString();
    QVERIFY(!saveDocument(d, path));
    const auto opened = openDocument(path, readBody);
    QVERIFY2(bool(opened), opened ? "" : opened.problem().text.c_str());
    const auto again = evaluate(*opened)->parts.begin()->second;
    NEAR(volumeOf(*again->body), base, 1e-6 * base);
    const auto bare = fromJson(
        toJson(d),
        [&](const std::string& name) {
            return name.ends_with(".body") ? std::nullopt : std::optional(*readFile(kExamples + "fairlead.step"));
        },
        readBody);
    QVERIFY2(bool(bare), bare ? "" : bare.problem().text.c_str());
    NEAR(volumeOf(*evaluate(*bare)->parts.begin()->second->body), base, 1e-6 * base);
}

void TestPartsIn::fiveMeshFormatsMeasureTheSame_data() {
    QTest::addColumn<QString>("format");
    QTest::addColumn<QString>("extension");
    for (const auto& [format, extension] : {std::pair{"obj", "obj"},
                                            {"stl", "stl"},
                                            {"stlb", "stl"},
                                            {"ply", "ply"},
                                            {"plyb", "ply"},
                                            {"glb2", "glb"},
                                            {"gltf2", "gltf"}})
        QTest::newRow(format) << format << extension;
}

/// A bracket off its origin: it has flat faces, a round hole and no symmetry that would hide a turned axis.
void TestPartsIn::fiveMeshFormatsMeasureTheSame() {
    QFETCH(QString, format);
    QFETCH(QString, extension);
    const BodyPtr source = moved(madeBody(Bracket{}), Mat3::Identity(), Vec3(40, 15, -8));
    const std::string bytes = exported(*source->mesh, format.toUtf8());
    QVERIFY(!bytes.empty());
    QTemporaryDir dir;
    const std::string file = dir.filePath("part." + extension).toStdString();
    QVERIFY(!writeAtomically(file, bytes));
    const auto read = readPartFile(file);
    QVERIFY2(bool(read), read ? "" : read.problem().text.c_str());
    const double unit = read->millimetresPerUnit > 0 ? read->millimetresPerUnit : 1;
    QCOMPARE(unit, extension.startsWith("gl") ? 1000.0 : 1.0); // only glTF says its unit
    const auto body = build(*shapeOf(*read, unit));
    QVERIFY(bool(body));
    QVERIFY((*body)->report.watertight());
    Seat seat;
    seat.point = Vec3(1, 2, 3);
    const Body triangles{source->mesh, nullptr};
    const Measures a = measuresOf(triangles, seat), b = measuresOf(**body, seat);
    for (auto m :
         {&Measures::before, &Measures::behind, &Measures::left, &Measures::right, &Measures::up, &Measures::down})
        NEAR(b.*m, a.*m, 2e-5);
    NEAR(b.volume, a.volume, 1e-6 * a.volume);
    NEAR(b.area, a.area, 1e-6 * a.area);
    QCOMPARE((*body)->mesh->triangles.size(), source->mesh->triangles.size());
    const auto holes = holesOf(**body);
    QCOMPARE(holes.size(), size_t(2));
    NEAR(holes[0].radius, 4.5, 0.02);
    QVERIFY(holes[0].error < 0.02); // the fit says how good it is
}

/// A .gltf whose buffer stands beside it, of lengths that leave 0, 1 and 2 bytes over: the same body as with it inside.
void TestPartsIn::aBufferBesideIsTakenIn() {
    QTemporaryDir dir;
    std::set<size_t> over;
    for (const double size : {20.0, 31.0}) {
        const BodyPtr source = madeBody(PlainBox{size, 2 * size, 9});
        std::string text = exported(*source->mesh, "gltf2");
        const std::string mark = "data:application/octet-stream;base64,";
        const size_t at = text.find(mark), end = text.find('"', at);
        QVERIFY(at != std::string::npos);
        const QByteArray bytes =
            QByteArray::fromBase64(QByteArray::fromStdString(text.substr(at + mark.size(), end - at - mark.size())));
        for (int more = 0; more < 3; ++more) { // bytes that nothing asks for
            over.insert(size_t(bytes.size() + more) % 3);
            QVERIFY(!writeAtomically(dir.filePath("own buffer.bin").toStdString(),
                                     bytes.toStdString() + std::string(size_t(more), '\x7e')));
            std::string beside = text;
            beside.replace(at, end - at, "own%20buffer.bin");
            const size_t length = beside.find("\"byteLength\"", beside.find("\"buffers\""));
            const size_t digit = beside.find_first_of("0123456789", length);
            beside.replace(digit, beside.find_first_not_of("0123456789", digit) - digit,
                           std::to_string(bytes.size() + more));
            const std::string file = dir.filePath("part.gltf").toStdString();
            QVERIFY(!writeAtomically(file, beside));
            const auto read = readPartFile(file);
            QVERIFY2(bool(read), read ? "" : read.problem().text.c_str());
            const auto body = build(*shapeOf(*read, 1000));
            QVERIFY(bool(body));
            NEAR(volumeOf(*(*body)->mesh), 2 * size * size * 9, 0.05);
            for (int k = 0; k < 3; ++k) NEAR((*body)->mesh->box.sizes()[k], source->mesh->box.sizes()[k], 1e-4);
        }
    }
    QCOMPARE(over.size(), size_t(3));
    // Names that are written as they are, against the rule, are found, too.
    const BodyPtr source = madeBody(PlainBox{20, 40, 9});
    std::string text = exported(*source->mesh, "gltf2");
    const std::string mark = "data:application/octet-stream;base64,";
    const size_t at = text.find(mark), end = text.find('"', at);
    const QByteArray bytes =
        QByteArray::fromBase64(QByteArray::fromStdString(text.substr(at + mark.size(), end - at - mark.size())));
    QVERIFY(!writeAtomically(dir.filePath("a%20b.bin").toStdString(), bytes.toStdString()));
    text.replace(at, end - at, "a%20b.bin");
    QVERIFY(!writeAtomically(dir.filePath("raw.gltf").toStdString(), text));
    const auto read = readPartFile(dir.filePath("raw.gltf").toStdString());
    QVERIFY2(bool(read), read ? "" : read.problem().text.c_str());
    NEAR(volumeOf(*(*build(*shapeOf(*read, 1000)))->mesh), 20 * 40 * 9, 0.05);
}

void TestPartsIn::openAndBranchingMeshesAreReported() {
    QTemporaryDir dir;
    // A box without its lid, and a fin on one of its edges.
    const auto file = readPartFile(
        writeText(dir, "open.obj",
                  "v 0 0 0\nv 10 0 0\nv 10 10 0\nv 0 10 0\nv 0 0 5\nv 10 0 5\nv 10 10 5\nv 0 10 5\nv 5 -5 -5\n"
                  "f 4 3 2 1\nf 1 2 6 5\nf 2 3 7 6\nf 3 4 8 7\nf 4 1 5 8\nf 1 2 9\n"));
    QVERIFY2(bool(file), file ? "" : file.problem().text.c_str());
    const auto& report = file->brought.body->report;
    QVERIFY(!report.watertight());
    QCOMPARE(report.open, size_t(6)); // the lid's four, the fin's two
    QCOMPARE(report.nonManifold, size_t(1));
    QVERIFY(file->remarks.size() >= 2);
    QVERIFY(!measuresOf(*file->brought.body, Seat{}).watertight);
}

void TestPartsIn::outlinesBecomeParts() {
    QTemporaryDir dir;
    QProcess p;
    p.start("/usr/bin/python3", {"-c", R"(
import ezdxf, sys
def doc(): d = ezdxf.new("R2000"); d.header["$INSUNITS"] = 4; return d
d = doc(); m = d.modelspace()
m.add_lwpolyline([(100, 0, 0), (160, 0, 1), (160, 40, 0), (100, 40, 0)], format="xyb", close=True)
m.add_circle((120, 20), 8); m.add_line((0, 0), (9, 0))
d.saveas(sys.argv[1] + "/slot.dxf")
d = doc(); d.modelspace().add_lwpolyline([(0, 0), (40, 40), (40, 0), (0, 30)], close=True); d.saveas(sys.argv[1] + "/bow.dxf")
d = doc(); d.modelspace().add_line((0, 0), (9, 0)); d.saveas(sys.argv[1] + "/open.dxf")
)",
                                 dir.path()});
    QVERIFY(p.waitForFinished(60'000) && p.exitCode() == 0);
    const double area = 60 * 40 + kPi * 400 / 2 - kPi * 64; // a rectangle, a half disc, less a hole
    const auto dxf = readPartFile(dir.filePath("slot.dxf").toStdString());
    QVERIFY2(bool(dxf), dxf ? "" : dxf.problem().text.c_str());
    QCOMPARE(dxf->outlines.size(), size_t(2));
    QVERIFY(dxf->remarks.back().find("1 open curve") != std::string::npos);
    if (const auto r = shapeOf(*dxf, dxf->millimetresPerUnit, {}, 12); !r) QFAIL(r.problem().text.c_str());
    const auto raised = build(*shapeOf(*dxf, dxf->millimetresPerUnit, {}, 12)), flat = build(*shapeOf(*dxf, 1));
    QVERIFY2(bool(raised), raised ? "" : raised.problem().text.c_str());
    NEAR(volumeOf(**raised), area * 12, 1e-6);
    NEAR(volumeOf(**flat), 0, 0);
    NEAR(areaOf(**flat), area, 1e-6);
    NEAR((*raised)->mesh->box.center().head<2>().norm(), 0, 1e-9); // round its own origin, wherever it was drawn
    const auto svg = readPartFile(
        writeText(dir, "ring.svg",
                  "<svg xmlns='http://www.w3.org/2000/svg' width='200mm' height='200mm' viewBox='0 0 200 200'>"
                  "<circle cx='100' cy='90' r='50'/><circle cx='100' cy='90' r='20'/></svg>"));
    QVERIFY2(bool(svg), svg ? "" : svg.problem().text.c_str());
    NEAR(svg->millimetresPerUnit, 1, 1e-12);
    NEAR(volumeOf(**build(*shapeOf(*svg, 1, {}, 5))), kPi * (2500 - 400) * 5, 1e-6);
    const auto bow = readPartFile(dir.filePath("bow.dxf").toStdString());
    const auto crossed = shapeOf(*bow, 1, {}, 5);
    QVERIFY(!crossed);
    QVERIFY2(crossed.problem().text.find("crosses itself") != std::string::npos, crossed.problem().text.c_str());
    QVERIFY(readPartFile(dir.filePath("open.dxf").toStdString()).problem().text.find("no closed curve") !=
            std::string::npos);
}

void TestPartsIn::badFilesAreNamed_data() {
    QTest::addColumn<QString>("name");
    QTest::addColumn<QByteArray>("bytes");
    QTest::addColumn<QString>("says");
    const auto body = madeBody(Bracket{});
    const auto row = [](const char* tag, const QString& name, const std::string& bytes, const char* says) {
        QTest::newRow(tag) << name << QByteArray(bytes.data(), qsizetype(bytes.size())) << says;
    };
    std::map<QString, std::string> sound;
    sound["step"] = *readFile(kExamples + "winch-link.step");
    for (const auto& [format, extension] :
         {std::pair{"obj", "obj"}, {"stlb", "stl"}, {"plyb", "ply"}, {"glb2", "glb"}, {"gltf2", "gltf"}})
        sound[extension] = exported(*body->mesh, format);
    sound["svg"] = "<svg xmlns='http://www.w3.org/2000/svg' width='9mm' height='9mm'><circle r='4'/></svg>";
    sound["dxf"] = *readFile(kExamples + "quay-paths.dxf");
    for (const auto& [extension, bytes] : sound) {
        QTest::addRow("empty %s", qPrintable(extension)) << "part." + extension << QByteArray() << QString("empty");
        // Something else under this name.
        const QString other = extension == "step" ? "glb" : "step";
        QTest::addRow("mislabelled %s", qPrintable(extension))
            << "part." + extension << QByteArray(sound[other].data(), qsizetype(sound[other].size()))
            << QString("not ");
    }
    for (const char* extension : {"step", "stl", "ply", "glb", "gltf"}) {
        const std::string half = sound[extension].substr(0, sound[extension].size() / 2);
        QTest::addRow("cut-off %s", extension)
            << QString("part.") + extension << QByteArray(half.data(), qsizetype(half.size()))
            << QString(std::string(extension) == "gltf" ? "" : "cut off");
    }
    const std::string text = exported(*body->mesh, "stl"), ply = exported(*body->mesh, "ply");
    row("cut-off text stl", "part.stl", text.substr(0, text.size() / 2), "cut off");
    row("cut-off text ply", "part.ply", ply.substr(0, ply.size() / 2), "cut off");
    row("binary stl that says too much", "part.stl",
        std::string(80, ' ') + std::string("\xff\xff\xff\x0f", 4) + std::string(50, '\0'), "cut off");
    row("a picture", "part.png", "\x89PNG", ".png");
}

void TestPartsIn::badFilesAreNamed() {
    QFETCH(QString, name);
    QFETCH(QByteArray, bytes);
    QFETCH(QString, says);
    QTemporaryDir dir;
    const std::string file = dir.filePath(name).toStdString();
    QVERIFY(!writeAtomically(file, bytes.toStdString()));
    const auto read = readPartFile(file);
    QVERIFY(!read);
    const QString text = read.problem().text.c_str();
    QVERIFY2(text.contains(says) && text.contains(name), qPrintable(text));
    qInfo() << text;
}

VICINAL_SUITE(TestPartsIn)

} // namespace test_parts_in
#include "test_parts_in.moc"
