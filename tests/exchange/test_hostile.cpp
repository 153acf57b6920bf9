// Damaged foreign files by the hundred: each ends in a part, paths or a message, in time, and the program lives. The
// mutations are drawn by a seed; what they hit in the libraries is a child's death, not ours.
#include "exchange/in/bring_in.h"
#include "exchange/in/child/foreign.h"
#include "exchange/in/child/lockdown.h"
#include "exchange/step_writer.h"
#include "model/documents.h"
#include "model/file/document_file.h"
#include "parts/body.h"
#include "suite.h"
#include "support.h"
#include <QTemporaryDir>
#include <fcntl.h>
#include <filesystem>
#include <fstream>
#include <spawn.h>
#include <sys/resource.h>
#include <sys/socket.h>
#include <sys/stat.h>
#include <sys/wait.h>
#include <thread>

namespace test_hostile {

using namespace vicinal;
using namespace vicinal::test;

namespace {

const std::string kExamples = VICINAL_SOURCE "/examples/";

/// Flips, cuts, doubles and puts large numbers in.
std::string mutated(std::string s, std::mt19937& random) {
    const auto at = [&] { return size_t(random() % std::max<size_t>(1, s.size())); };
    for (int k = 1 + int(random() % 6); k > 0 && !s.empty(); --k) switch (random() % 5) {
        case 0: s[at()] ^= char(1 << random() % 8); break;
        case 1: s.erase(at(), 1 + random() % 40); break;
        case 2: {
            const size_t from = at();
            s.insert(at(), s.substr(from, 1 + random() % 200));
            break;
        }
        case 3: {
            const size_t digit = s.find_first_of("0123456789", at());
            if (digit != std::string::npos)
                s.replace(digit, 1, std::array{"-1", "99999999", "1e300", "4294967295"}[random() % 4]);
            break;
        }
        case 4: s.resize(s.size() - random() % (s.size() / 4 + 1)); break;
        }
    return s;
}

std::string plyBinary(int n) {
    std::string out = "ply\nformat binary_little_endian 1.0\nelement vertex " + std::to_string(3 * n) +
                      "\nproperty float x\nproperty float y\nproperty float z\nelement face " + std::to_string(n) +
                      "\nproperty list uchar int vertex_indices\nend_header\n";
    const auto put = [&](const auto& v) { out.append(reinterpret_cast<const char*>(&v), sizeof v); };
    for (int i = 0; i < 3 * n; ++i)
        for (float v : {float(i), float(i % 3), float(i % 2)}) put(v);
    for (int i = 0; i < n; ++i) {
        out += char(3);
        for (int k = 0; k < 3; ++k) put(std::int32_t(3 * i + k));
    }
    return out;
}

#define HAS(text, words)                                                                                               \
    do {                                                                                                               \
        const std::string t_ = (text);                                                                                 \
        QVERIFY2(t_.find(words) != std::string::npos, t_.c_str());                                                     \
    } while (false)

int openFiles() {
    int n = 0;
    for ([[maybe_unused]] const auto& e : std::filesystem::directory_iterator("/proc/self/fd")) ++n;
    return n;
}

} // namespace

class TestHostile : public QObject {
    Q_OBJECT
private slots:
    void mutatedFilesEndInAnAnswer_data();
    void mutatedFilesEndInAnAnswer();
    void emptyFilesAreCalledEmpty();
    void wholeFilesComeThroughUnchanged();
    void countsThatDoNotFitAreTold();
    void insertsThatMultiplyAreBounded();
    void scenesThatMultiplyAreBounded();
    void facesOfManyCornersAreTold();
    void cancelEndsTheChildAtOnce();
    void aMissingReaderIsSaid();
    void storedSolidsAreNotTrusted();
    void namesInsideMeshesAreNotOpened();
    void theReaderCanOnlyCompute();
};

void TestHostile::mutatedFilesEndInAnAnswer_data() {
    QTest::addColumn<QString>("kind");
    QTest::addColumn<int>("rounds");
    for (const auto& [kind, rounds] :
         {std::pair{"dxf", 60}, {"ply", 60}, {"obj", 40}, {"stl", 40}, {"step", 25}, {"svg", 200}})
        QTest::newRow(kind) << kind << rounds;
}

void TestHostile::mutatedFilesEndInAnAnswer() {
    QFETCH(QString, kind);
    QFETCH(int, rounds);
    const std::string whole = kind == "dxf"    ? *readFile(kExamples + "quay-paths.dxf")
                              : kind == "ply"  ? plyBinary(40)
                              : kind == "obj"  ? *readFile(kExamples + "mooring-post.obj")
                              : kind == "step" ? *readFile(kExamples + "winch-link.step")
                              : kind == "svg"
                                  ? *readFile(VICINAL_SOURCE "/tests/exchange/shapes.svg")
                                  : std::string(80, ' ') + std::string("\x02\0\0\0", 4) + std::string(100, '\x3f');
    QTemporaryDir dir;
    std::mt19937 random(unsigned(kind.size()) * 7919u + unsigned(kind[0].unicode()));
    const int before = openFiles();
    int good = 0, refused = 0;
    for (int i = 0; i < rounds; ++i) {
        const std::string path = writeText(dir, ("m." + kind.toStdString()).c_str(), mutated(whole, random));
        if (kind == "dxf" || kind == "svg") {
            const auto r = readCurves(path);
            r ? ++good : ++refused;
            if (!r) QVERIFY2(!r.problem().text.empty() && r.problem().text.size() < 1500, r.problem().text.c_str());
        } else {
            const auto r = readPartFile(path);
            r ? ++good : ++refused;
            if (!r) QVERIFY2(!r.problem().text.empty() && r.problem().text.size() < 1500, r.problem().text.c_str());
        }
    }
    QCOMPARE(good + refused, rounds);
    QVERIFY(refused > 0);
    QCOMPARE(openFiles(), before); // nothing left open, no child left
}

void TestHostile::emptyFilesAreCalledEmpty() {
    QTemporaryDir dir;
    for (const char* kind : {"stl", "obj", "ply", "gltf", "glb"}) {
        const auto r = readPartFile(writeText(dir, ("none." + std::string(kind)).c_str(), ""));
        QVERIFY(!r);
        HAS(r.problem().text, "the file is empty. Get it again.");
    }
}

void TestHostile::wholeFilesComeThroughUnchanged() {
    // Across the wire: every kind of segment a DXF has, to the last bit.
    QTemporaryDir dir;
    const auto f = readDxf(kExamples + "quay-paths.dxf");
    QVERIFY(bool(f));
    QCOMPARE(f->strands.size(), size_t(5));
    const auto& spline = std::get<Nurbs>(f->strands[4].segments[0]);
    QCOMPARE(spline.points[2].x(), 3500.0);
    QCOMPARE(spline.knots.size(), size_t(9));
    const auto& arc = std::get<Arc>(f->strands[2].segments[0]);
    QCOMPARE(arc.radius, 1500.0);
    // A mesh with what was found in it.
    MeshReport report;
    const auto mesh = readMesh(plyBinary(7), "ply", 2, &report);
    QVERIFY(bool(mesh));
    QCOMPARE((*mesh)->triangles.size(), size_t(7));
    QVERIFY(report.open > 0);
}

void TestHostile::countsThatDoNotFitAreTold() {
    QTemporaryDir dir;
    const std::string spline =
        "0\nSECTION\n2\nENTITIES\n0\nSPLINE\n8\nA\n70\n8\n71\n3\n72\n2000000000\n73\n5\n74\n0\n0\nENDSEC\n0\nEOF\n";
    const auto r = readDxf(writeText(dir, "a.dxf", spline));
    QVERIFY(!r);
    QVERIFY2(r.problem().text.find("line 14") != std::string::npos &&
                 r.problem().text.find("SPLINE") != std::string::npos,
             r.problem().text.c_str());
    std::string ply = plyBinary(3);
    ply.replace(ply.find("vertex 9"), 8, "vertex 999999999");
    QVERIFY(!readMesh(ply, "ply", 1));
    rusage children{};
    getrusage(RUSAGE_CHILDREN, &children);
    QVERIFY2(children.ru_maxrss < 2'500'000, qPrintable(QString::number(children.ru_maxrss)));
}

void TestHostile::insertsThatMultiplyAreBounded() {
    // Ten levels of ten inserts each: ten thousand million lines.
    std::string text = "0\nSECTION\n2\nBLOCKS\n";
    for (int level = 0; level < 10; ++level) {
        text += "0\nBLOCK\n8\n0\n2\nB" + std::to_string(level) + "\n70\n0\n10\n0\n20\n0\n30\n0\n";
        for (int i = 0; i < 10; ++i)
            text += level == 0 ? "0\nLINE\n8\n0\n10\n0\n20\n0\n30\n0\n11\n1\n21\n0\n31\n0\n"
                               : "0\nINSERT\n8\n0\n2\nB" + std::to_string(level - 1) + "\n10\n" + std::to_string(i) +
                                     "\n20\n0\n30\n0\n";
        text += "0\nENDBLK\n";
    }
    text += "0\nENDSEC\n0\nSECTION\n2\nENTITIES\n0\nINSERT\n8\n0\n2\nB9\n10\n0\n20\n0\n30\n0\n0\nENDSEC\n0\nEOF\n";
    QTemporaryDir dir;
    const auto r = readDxf(writeText(dir, "bomb.dxf", text));
    QVERIFY(!r && r.problem().text.find("inserts its blocks more than 200000 times") != std::string::npos);
    // Entities that grow to gigabytes end in a message, too, and in a child.
    std::string svg = "<?xml version=\"1.0\"?>\n<!DOCTYPE svg [<!ENTITY a \"0 1 2 3 4 5 6 7 8 9 \">";
    for (char e = 'b'; e <= 'z'; ++e) {
        svg += std::string("<!ENTITY ") + e + " \"";
        for (int k = 0; k < 10; ++k) svg += std::string("&") + char(e - 1) + ";";
        svg += "\">";
    }
    svg += "]>\n<svg xmlns=\"http://www.w3.org/2000/svg\"><path d=\"M &z;\"/></svg>";
    const auto grown = readSvg(writeText(dir, "grown.svg", svg));
    QVERIFY(!grown && !grown.problem().text.empty());
    rusage children{};
    getrusage(RUSAGE_CHILDREN, &children);
    QVERIFY2(children.ru_maxrss < 2'500'000, qPrintable(QString::number(children.ru_maxrss)));
}

/// True while this process has a child.
bool hasChild() {
    for (const auto& task : std::filesystem::directory_iterator("/proc/self/task")) {
        std::string children;
        std::ifstream(task.path() / "children") >> children;
        if (!children.empty()) return true;
    }
    return false;
}

namespace {

/// A scene of triangles, `nodes` and `roots` as they stand in the file; it says its mesh has `count` corners.
std::string sceneOf(const std::string& nodes, const std::string& roots, int count = 3) {
    return R"({"asset":{"version":"2.0"},"scene":0,"scenes":[{"nodes":[)" + roots + R"(]}],"nodes":[)" + nodes +
           R"(],"meshes":[{"primitives":[{"attributes":{"POSITION":0}}]}],"buffers":[{"byteLength":36,"uri":)"
           R"("data:application/octet-stream;base64,AAAAAAAAAAAAAAAAAACAPwAAAAAAAAAAAAAAAAAAgD8AAAAA"}],)"
           R"("bufferViews":[{"buffer":0,"byteOffset":0,"byteLength":36}],"accessors":[{"bufferView":0,)"
           R"("componentType":5126,"count":)" +
           std::to_string(count) + R"(,"type":"VEC3","min":[0,0,0],"max":[1,1,0]}]})";
}

} // namespace

void TestHostile::scenesThatMultiplyAreBounded() {
    QTemporaryDir dir;
    const auto told = [&](const std::string& scene) {
        const auto r = readPartFile(writeText(dir, "scene.gltf", scene));
        return r ? std::string("read: ") + std::to_string(r->brought.body->mesh->triangles.size())
                 : std::string(r.problem().text.c_str());
    };
    const auto chain = [](int deep, const char* children) {
        std::string out;
        for (int i = 0; i < deep; ++i) {
            std::string c = children;
            for (size_t at; (at = c.find('n')) != std::string::npos;) c.replace(at, 1, std::to_string(i + 1));
            out += "{\"children\":[" + c + "],\"translation\":[0,0,1]},";
        }
        return out + "{\"mesh\":0}";
    };
    // A node under two others is made twice; two to the thirtieth is not made at all.
    QCOMPARE(told(sceneOf(R"({"children":[2]},{"children":[2],"translation":[0,0,5]},{"mesh":0})", "0,1")),
             std::string("read: 2"));
    HAS(told(sceneOf(chain(30, "n,n"), "0")), "make 2147483647 together; the most is 200000.");
    HAS(told(sceneOf(chain(200, "n,n"), "0")), "more than 10^15");
    HAS(told(sceneOf(chain(30000, "n"), "0")), "more than 1000 deep");
    std::string upwards = R"({"mesh":0})"; // the deepest listed first
    for (int i = 0; i < 1500; ++i) upwards += ",{\"children\":[" + std::to_string(i) + "]}";
    HAS(told(sceneOf(upwards, "1500")), "more than 1000 deep");
    std::string again = "0"; // a scene that names its root over and over
    for (int i = 0; i < 300'000; ++i) again += ",0";
    HAS(told(sceneOf(R"({"mesh":0})", again)), "make 300001 together");
    HAS(told(sceneOf(R"({"children":[1]},{"children":[0],"mesh":0})", "0")), "under itself");
    std::string many = R"({"mesh":0})";
    for (int i = 0; i < 2000; ++i) many += R"(,{"mesh":0})";
    std::string roots = "0";
    for (int i = 1; i < 2001; ++i) roots += "," + std::to_string(i);
    HAS(told(sceneOf(many, roots, 9000)), "all its nodes together make 6003000 triangles; the most is 5000000.");
}

void TestHostile::facesOfManyCornersAreTold() {
    QTemporaryDir dir;
    const auto star = [&](int n) {
        std::string points, face = "f";
        for (int i = 0; i < n; ++i) {
            const double a = 2 * kPi * i / n, r = i % 2 ? 130 : 100;
            points += "v " + std::to_string(r * std::cos(a)) + " " + std::to_string(r * std::sin(a)) + " 0\n";
            face += " " + std::to_string(i + 1);
        }
        return readPartFile(writeText(dir, "star.obj", points + face + "\n"));
    };
    const auto some = star(300);
    QVERIFY2(bool(some), some ? "" : some.problem().text.c_str());
    QCOMPARE(some->brought.body->mesh->triangles.size(), size_t(298));
    const auto many = star(10'002);
    QVERIFY(!many);
    HAS(many.problem().text.c_str(), "a face of 10002 corners; the most is 10000. Save it as triangles");
}

void TestHostile::cancelEndsTheChildAtOnce() {
    // Stopped as soon as the child is there: it has not even loaded what reads STEP files.
    QTemporaryDir dir;
    const auto file = writeText(dir, "a.step", *readFile(kExamples + "winch-link.step"));
    Stop stop = false;
    std::thread later([&] {
        while (!hasChild()) std::this_thread::yield();
        stop = true;
    });
    const auto r = readStepBodies(file, &stop);
    later.join();
    QVERIFY(!r);
    QCOMPARE(r.problem().text, cancelled().text);
    QVERIFY(!hasChild());
}

void TestHostile::aMissingReaderIsSaid() {
    // The child finds no file: its answer comes back as any problem does.
    const auto r = readDxf("/nowhere/at/all.dxf");
    QVERIFY(!r);
    QVERIFY2(r.problem().text.find("There is no file") != std::string::npos, r.problem().text.c_str());
}

/// A mesh that says where the rest of it stands: nothing but the file itself is ever opened.
void TestHostile::namesInsideMeshesAreNotOpened() {
    QTemporaryDir dir;
    // A triangle's points as a buffer of its own, which a reader that follows names would find.
    const std::string outside = dir.filePath("outside.bin").toStdString();
    const float points[] = {0, 0, 0, 1, 0, 0, 0, 1, 0};
    std::ofstream(outside, std::ios::binary).write(reinterpret_cast<const char*>(points), sizeof points);
    const auto gltf = [](const std::string& buffers, int of) {
        return R"({"asset":{"version":"2.0"},"scene":0,"scenes":[{"nodes":[0]}],"nodes":[{"mesh":0}],)"
               R"("meshes":[{"primitives":[{"attributes":{"POSITION":0}}]}],)"
               R"("accessors":[{"bufferView":0,"componentType":5126,"count":3,"type":"VEC3","min":[0,0,0],"max":[1,1,0]}],)"
               R"("bufferViews":[{"buffer":)" +
               std::to_string(of) + R"(,"byteLength":36}],"buffers":)" + buffers + "}";
    };
    const auto glb = [](std::string json) {
        while (json.size() % 4) json += ' ';
        std::string out = "glTF";
        const auto word = [&](std::uint32_t v) { out.append(reinterpret_cast<const char*>(&v), 4); };
        word(2), word(std::uint32_t(12 + 8 + json.size() + 8 + 4));
        word(std::uint32_t(json.size())), out += "JSON" + json;
        word(4), out += std::string("BIN\0", 4) + std::string(4, '\0');
        return out;
    };
    const std::string named = R"({"byteLength":36,"uri":")" + outside + R"("})";
    for (const auto& [bytes, kind] : {std::pair{gltf("[" + named + "]", 0), "gltf"},
                                      {glb(gltf(R"([{"byteLength":4},)" + named + "]", 1)), "glb"}}) {
        const auto r = readMesh(bytes, kind, 1000);
        QVERIFY2(!r, kind);
        QVERIFY2(r.problem().text.find("another file") != std::string::npos, r.problem().text.c_str());
    }
    // Materials are not needed: the shape comes in, and a pipe that nobody writes to is not waited for.
    const std::string pipe = dir.filePath("pipe.mtl").toStdString();
    QCOMPARE(mkfifo(pipe.c_str(), 0600), 0);
    for (const std::string& material : {pipe, std::string("/etc/passwd"), std::string("../../outside.mtl")}) {
        const auto r = readMesh("mtllib " + material + "\nv 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n", "obj", 1);
        QVERIFY2(bool(r), r ? "" : r.problem().text.c_str());
        QCOMPARE((*r)->triangles.size(), size_t(1));
    }
}

/// What is left when the reader is locked, tried one by one in a child of its own.
void TestHostile::theReaderCanOnlyCompute() {
    QTemporaryDir dir;
    const std::string file = dir.filePath("x").toStdString(), made = dir.filePath("made").toStdString();
    std::ofstream(file) << "x";
    const auto locked = [&](here::MayOpen may) {
        const pid_t child = fork();
        if (child == 0) {
            if (!here::lockDown(may)) _exit(255);
            int can = 0;
            can |= open(file.c_str(), O_RDONLY) >= 0 ? 1 : 0;
            can |= open(file.c_str(), O_WRONLY) >= 0 ? 2 : 0;
            can |= open(made.c_str(), O_RDWR | O_CREAT, 0600) >= 0 ? 2 : 0;
            can |= unlink(file.c_str()) == 0 ? 2 : 0;
            can |= socket(AF_UNIX, SOCK_STREAM, 0) >= 0 ? 4 : 0;
            can |= socket(AF_INET, SOCK_STREAM, 0) >= 0 ? 4 : 0;
            const pid_t another = fork();
            if (another == 0) _exit(0);
            can |= another > 0 ? 8 : 0;
            char* const words[] = {const_cast<char*>("true"), nullptr};
            execv("/bin/true", words); // would end with 0
            can |= 16;                 // it still runs
            int value = 0;
            std::thread([&] { value = 32; }).join();
            _exit(can | value);
        }
        int status = 0;
        waitpid(child, &status, 0);
        return WIFEXITED(status) ? WEXITSTATUS(status) : -1;
    };
    const int reads = locked(here::MayOpen::ToRead);
    if (reads == 255) QSKIP("this kernel has no such filter");
    QCOMPARE(reads, 1 | 16 | 32);
    QCOMPARE(locked(here::MayOpen::Nothing), 16 | 32);
    QVERIFY(std::filesystem::exists(file));
    QVERIFY(!std::filesystem::exists(made));
}

void TestHostile::storedSolidsAreNotTrusted() {
    const auto solid = extruded(std::vector<Ring>{{Arc{{0, 0, 0}, Vec3::UnitX(), Vec3::UnitY(), 30, 2 * kPi}}}, 0, 9);
    const std::string whole = toBinary(**solid);
    const auto back = readStoredSolid(whole);
    QVERIFY(bool(back));
    NEAR(volumeOf(**back), kPi * 900 * 9, 1e-6);
    std::mt19937 random(77);
    for (int i = 0; i < 40; ++i) {
        std::string bent = mutated(whole, random);
        const size_t line = bent.find('\n');
        if (line == std::string::npos) continue;
        bent = "body " + std::to_string(bent.size() - line - 1) +
               bent.substr(line);    // the length agrees: only the content is bad
        (void)readStoredSolid(bent); // an answer, and we are still here
    }
}

VICINAL_SUITE(TestHostile)

} // namespace test_hostile
#include "test_hostile.moc"
