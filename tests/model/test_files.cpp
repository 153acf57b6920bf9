// Saving: what is at the name afterwards, whatever was there before; damaged and hostile documents; journals.
#include "exchange/in/bring_in.h"
#include "layout/spacing/rules.h"
#include "model/document/defects.h"
#include "model/document/part_item.h"
#include "model/document/path_item.h"
#include "model/document/run_item.h"
#include "model/documents.h"
#include "model/file/document_file.h"
#include "model/file/journal.h"
#include "suite.h"
#include "support.h"
#include <QProcess>
#include <QTemporaryDir>
#include <atomic>
#include <csignal>
#include <fcntl.h>
#include <grp.h>
#include <random>
#include <sys/resource.h>
#include <sys/stat.h>
#include <sys/wait.h>
#include <thread>
#include <unistd.h>

namespace test_files {

using namespace vicinal;
using namespace vicinal::test;
namespace fs = std::filesystem;

namespace {

const BodyReader kNoBody = [](const Brought&, const std::optional<std::string>&) -> Result<BodyPtr> {
    return Problem{"no body", ""};
};
std::string says(const std::optional<Problem>& p) { return p ? std::string(p->text) : std::string(); }
Document chainOf(int n) {
    Document d;
    std::vector<PathItem> items{{0, "first", ShapeRecipe{StraightShape{}}}};
    for (int i = 1; i < n; ++i) items.push_back({0, "next", DerivedRecipe{i, BackwardsOf{}}});
    return with(std::move(d), std::move(items));
}

} // namespace

class TestFiles : public QObject {
    Q_OBJECT
private slots:
    void linksModesAndNamesStay();
    void onlyRegularFilesAreReplaced();
    void readOnlyAndChangedAreAsked();
    void filesThatAreNotOursAreWrittenInPlace();
    void longNamesAndFullDisks();
    void leftOversAreSwept();
    void everyFlippedByteIsNoticed();
    void assetsStayBelowTheFolder();
    void hostileDocumentsEndInAMessage_data();
    void hostileDocumentsEndInAMessage();
    void longChainsAreNoRecursion();
    void piecesThatMultiplyAreBounded();
    void endlessWorkIsBounded();
    void resampledCountsHaveBounds();
    void pathsThatGoOn();
    void noValueThatCannotBeReadAgain();
    void theLargestCoordinates();
    void journalsOfTheDead();
    void oddJournalsHideNoOther();
    void theOldBytesOfAKilledWriterAreKept();
    void changesOfTwoAreBothThere();
};

void TestFiles::linksModesAndNamesStay() {
    QTemporaryDir dir;
    const fs::path base = dir.path().toStdString(), file = base / "a.txt", link = base / "link", twin = base / "twin";
    umask(027);
    QVERIFY(!writeAtomically(file, "one"));
    struct stat s {};
    stat(file.c_str(), &s);
    QCOMPARE(int(s.st_mode & 0777), 0640);
    umask(022);
    fs::permissions(file, fs::perms(0604));
    fs::create_symlink("a.txt", link);
    QVERIFY(!writeAtomically(link, "two"));
    QVERIFY(fs::is_symlink(link));
    QCOMPARE(*readFile(file), std::string("two"));
    stat(file.c_str(), &s);
    QCOMPARE(int(s.st_mode & 0777), 0604);
    fs::create_hard_link(file, twin);
    QVERIFY(!writeAtomically(file, "three and more"));
    QCOMPARE(*readFile(twin), std::string("three and more"));
    QCOMPARE(fs::hard_link_count(file), std::uintmax_t(2));
    if (geteuid() == 0) { // somebody else's file stays theirs
        QCOMPARE(chown(file.c_str(), 12345, 23456), 0);
        fs::remove(twin);
        QVERIFY(!writeAtomically(file, "four"));
        stat(file.c_str(), &s);
        QVERIFY(s.st_uid == 12345 && s.st_gid == 23456);
    }
    QVERIFY(says(writeAtomically(base / "loop", "x")).empty());
    fs::remove(base / "loop");
    fs::create_symlink("loop", base / "loop");
    QVERIFY2(says(writeAtomically(base / "loop", "x")).find("link") != std::string::npos, "a link to itself");
}

void TestFiles::onlyRegularFilesAreReplaced() {
    QTemporaryDir dir;
    const fs::path base = dir.path().toStdString();
    QCOMPARE(mkfifo((base / "pipe").c_str(), 0600), 0);
    fs::create_directory(base / "folder");
    for (const fs::path& p : {base / "pipe", base / "folder", fs::path("/dev/null")}) {
        QVERIFY2(says(writeAtomically(p, "x")).find("Choose a name for a file") != std::string::npos, p.c_str());
        QVERIFY(fs::exists(p) && !fs::is_regular_file(p));
        QVERIFY(!readFile(p)); // and is not waited for
    }
}

void TestFiles::readOnlyAndChangedAreAsked() {
    QTemporaryDir dir;
    const fs::path file = dir.filePath("a").toStdString();
    QVERIFY(!writeAtomically(file, "one"));
    SaveOptions options;
    options.known = stampOf(file);
    QVERIFY(!writeAtomically(file, "two", options));
    QCOMPARE(writeAtomically(file, "three", options)->field, std::string("changed"));
    QCOMPARE(*readFile(file), std::string("two"));
    options.evenIfChanged = true;
    QVERIFY(!writeAtomically(file, "three", options));
    fs::permissions(file, fs::perms(0444));
    QCOMPARE(writeAtomically(file, "four")->field, std::string("readOnly"));
    options.evenIfReadOnly = true;
    QVERIFY(!writeAtomically(file, "four", options));
    QCOMPARE(*readFile(file), std::string("four"));
}

/// Root may write everywhere: for a while the process is nobody, of no other group.
struct AsNobody {
    const bool wasRoot = geteuid() == 0;
    std::vector<gid_t> groups;
    AsNobody() {
        if (!wasRoot) return;
        groups.resize(size_t(getgroups(0, nullptr)));
        if (getgroups(int(groups.size()), groups.data()) < 0 || setgroups(0, nullptr) || setegid(65534) ||
            seteuid(65534))
            qFatal("cannot become nobody");
    }
    ~AsNobody() {
        if (wasRoot && (seteuid(0) || setegid(0) || setgroups(groups.size(), groups.data())))
            qFatal("cannot become root again");
    }
};

void TestFiles::filesThatAreNotOursAreWrittenInPlace() {
    QTemporaryDir dir;
    const fs::path base = dir.path().toStdString(), copies = base / "copies";
    const bool root = geteuid() == 0;
    chmod(base.c_str(), 0755);
    fs::create_directory(copies);
    chmod(copies.c_str(), 0777);
    const auto made = [&](const char* name, mode_t folder, mode_t mode, int owner, int group) {
        const fs::path place = base / name, file = place / "a.json";
        fs::create_directory(place);
        std::ofstream(file) << "the old bytes, which are longer";
        chmod(file.c_str(), mode);
        if (root && chown(file.c_str(), uid_t(owner), gid_t(group)) != 0) qFatal("chown");
        chmod(place.c_str(), folder);
        return file;
    };
    const auto closed = made("closed", 0555, 0666, 0, 0);         // its folder cannot be written
    const auto shared = made("shared", 0777, 0666, 65534, 65533); // ours, but of a group we cannot give it to
    const auto theirs = made("theirs", 0777, 0666, 65533, 65533); // somebody else's, writable
    const auto locked = made("locked", 0555, 0444, 0, 0);
    {
        AsNobody nobody;
        for (const auto& file : {closed, shared, theirs}) {
            struct stat before {
            }, after{};
            stat(file.c_str(), &before);
            const auto problem = writeAtomically(file, "new", {.copies = copies});
            stat(file.c_str(), &after);
            QVERIFY2(!problem, says(problem).c_str());
            QCOMPARE(*readFile(file), std::string("new"));
            QCOMPARE(after.st_uid, before.st_uid);
            QCOMPARE(after.st_gid, before.st_gid);
            QCOMPARE(after.st_mode, before.st_mode);
            if (root || file == closed) QCOMPARE(after.st_ino, before.st_ino);
        }
        const auto problem = writeAtomically(locked, "new", {.evenIfReadOnly = true, .copies = copies});
        QVERIFY(problem);
        QCOMPARE(*readFile(locked), std::string("the old bytes, which are longer"));
    }
    QVERIFY(fs::is_empty(copies));
    for (const char* name : {"closed", "shared", "theirs", "locked"}) {
        chmod((base / name).c_str(), 0755); // so that it can be taken away
        size_t files = 0;
        for ([[maybe_unused]] const auto& e : fs::directory_iterator(base / name)) ++files;
        QCOMPARE(files, size_t(1));
    }
}

void TestFiles::longNamesAndFullDisks() {
    QTemporaryDir dir;
    const fs::path base = dir.path().toStdString();
    const Stop cancel = true; // given up before it is put in place: as it was, and nothing is left beside it
    QVERIFY(!writeAtomically(base / "kept", "before"));
    QVERIFY(says(writeAtomically(base / "kept", "after", {.stop = &cancel})).find("cancelled") != std::string::npos);
    fs::create_hard_link(base / "kept", base / "second"); // written in place
    QVERIFY(says(writeAtomically(base / "kept", "after", {.stop = &cancel})).find("cancelled") != std::string::npos);
    QCOMPARE(*readFile(base / "kept"), std::string("before"));
    QVERIFY(!writeAtomically(base / std::string(255, 'n'), "x"));
    QVERIFY2(says(writeAtomically(base / std::string(256, 'n'), "x")).find("255 bytes") != std::string::npos, "");
    // A limit on the size of files stands for a full disk; it must not end the program.
    keepGoingOnFileSignals();
    QVERIFY(!writeAtomically(base / "old", "the old bytes"));
    fs::create_directory(base / "copies");
    rlimit before{};
    getrlimit(RLIMIT_FSIZE, &before);
    const rlimit small{1000, before.rlim_max};
    setrlimit(RLIMIT_FSIZE, &small);
    const auto problem = writeAtomically(base / "old", std::string(5000, 'x'));
    fs::create_hard_link(base / "old", base / "twin");
    const auto inPlace = writeAtomically(base / "old", std::string(5000, 'x'), {.copies = base / "copies"});
    setrlimit(RLIMIT_FSIZE, &before);
    QVERIFY(problem && inPlace);
    QCOMPARE(*readFile(base / "old"), std::string("the old bytes"));
    QVERIFY(fs::is_empty(base / "copies")); // the old file is whole again: nothing is to be kept
    fs::remove(base / "copies");
    size_t files = 0;
    for (const auto& e : fs::directory_iterator(base)) files += e.path().filename().string().starts_with(".vicinal-");
    QCOMPARE(files, size_t(0));
}

void TestFiles::leftOversAreSwept() {
    QTemporaryDir dir;
    const fs::path base = dir.path().toStdString();
    const auto put = [&](const std::string& name) { std::ofstream(base / name) << "x"; };
    put(".vicinal-999999999-1.part"); // nobody's
    put(".vicinal-" + std::to_string(getpid()) + "-1.part");
    put(".vicinal-notes.txt");
    QVERIFY(!writeAtomically(base / "a", "x"));
    QVERIFY(!fs::exists(base / ".vicinal-999999999-1.part"));
    QVERIFY(fs::exists(base / (".vicinal-" + std::to_string(getpid()) + "-1.part")));
    QVERIFY(fs::exists(base / ".vicinal-notes.txt"));
}

void TestFiles::everyFlippedByteIsNoticed() {
    // Stored without compression a flipped digit is a flipped digit: only the checksum tells.
    QTemporaryDir dir;
    const Document d = chainOf(3);
    const fs::path stored = dir.filePath("s.vicinal").toStdString();
    {
        QProcess p;
        const auto json = writeText(dir, "document.json", toJson(d));
        p.start("python3", {"-c",
                            "import sys, zipfile\nz = zipfile.ZipFile(sys.argv[1], 'w', "
                            "zipfile.ZIP_STORED)\nz.write(sys.argv[2], 'document.json')\nz.close()",
                            stored.c_str(), json.c_str()});
        QVERIFY(p.waitForFinished() && p.exitCode() == 0);
    }
    const std::string whole = *readFile(stored), text = toJson(d);
    QVERIFY(bool(openDocument(stored, kNoBody)));
    std::mt19937 random(9);
    int refused = 0, same = 0;
    for (int i = 0; i < 400; ++i) {
        std::string bent = whole;
        bent[random() % bent.size()] ^= char(1 << random() % 8);
        const auto r = openDocument(writeText(dir, "bent.vicinal", bent), kNoBody);
        if (!r)
            ++refused;
        else
            same += toJson(*r) == text; // a byte that says nothing (a date in the archive)
    }
    QCOMPARE(refused + same, 400);
    QVERIFY(refused > 300);
}

void TestFiles::assetsStayBelowTheFolder() {
    QTemporaryDir dir;
    const fs::path base = dir.path().toStdString();
    fs::create_directories(base / "doc/assets");
    std::ofstream(base / "secret.obj") << "v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n";
    std::ofstream(base / "doc/assets/fine.obj") << "v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n";
    fs::create_symlink("../../secret.obj", base / "doc/assets/link.obj");
    fs::create_symlink("fine.obj", base / "doc/assets/inside.obj");
    const auto opens = [&](const std::string& asset) {
        const std::string json =
            R"({"format":"vicinal","version":3,"units":"mm","shownIn":"mm","nextId":2,"paths":[],"runs":[],"parts":[{"id":1,"name":"p",
               "shape":{"kind":"mesh","asset":")" +
            asset + R"(","source":"x","scale":1},
               "seat":{"point":{"box":[0,0,-1]},"nose":"+x","crown":"+z"}}]})";
        std::ofstream(base / "doc/document.json") << json;
        return bool(openDocument(base / "doc/document.json", readBody));
    };
    QVERIFY(opens("assets/fine.obj"));
    QVERIFY(opens("assets/inside.obj"));
    for (const std::string& bad :
         {std::string("../secret.obj"), std::string("assets/link.obj"), (base / "secret.obj").string(),
          std::string("/dev/zero"), std::string("assets/../../secret.obj"), std::string("")})
        QVERIFY2(!opens(bad), bad.c_str());
    // The same for what a glTF names.
    std::ofstream(base / "buffer.bin") << std::string(36, '\0');
    std::ofstream(base / "doc/a.gltf")
        << R"({"asset":{"version":"2.0"},"buffers":[{"uri":"../buffer.bin","byteLength":36}],"meshes":[]})";
    const auto part = readPartFile(base / "doc/a.gltf");
    QVERIFY(!part && part.problem().text.find("buffer") != std::string::npos);
}

void TestFiles::hostileDocumentsEndInAMessage_data() {
    QTest::addColumn<int>("kind");
    for (const auto& [name, kind] : {std::pair{"nested 300,000 deep", 0},
                                     {"100 MB of numbers in 100 kB", 1},
                                     {"id 2^40", 2},
                                     {"2^31 left out", 3},
                                     {"nan by overflow", 4},
                                     {"a million items", 5}})
        QTest::newRow(name) << kind;
}

void TestFiles::hostileDocumentsEndInAMessage() {
    QFETCH(int, kind);
    QTemporaryDir dir;
    std::string text = toJson(chainOf(2));
    const auto swap = [&](const std::string& from, const std::string& to) {
        if (text.find(from) == std::string::npos) qFatal("no %s", from.c_str());
        text.replace(text.find(from), from.size(), to);
    };
    switch (kind) {
    case 0: text = std::string(300'000, '[') + std::string(300'000, ']'); break;
    case 1:
        text = "{\"format\":\"vicinal\",\"x\":[0";
        for (int i = 0; i < 50'000'000; ++i) text += ",0";
        text += "]}";
        break;
    case 2: swap("\"id\": 1", "\"id\": 1099511627776"); break;
    case 3: swap("\"runs\": []", "\"runs\": [{\"id\":1,\"name\":\"r\",\"leftOut\":[99999999999]}]"); break;
    case 4: swap("\"length\": 1000", "\"length\": 1e999"); break;
    case 5:
        swap(
            "\"runs\": []", "\"runs\": [" + [] {
                std::string many = "{}";
                for (int i = 0; i < 1'000'000; ++i) many += ",{}";
                return many;
            }() + "]");
        break;
    }
    std::string file = dir.filePath("a.json").toStdString();
    std::ofstream(file) << text;
    if (kind == 1) { // as the archive that it comes in
        QProcess p;
        const QString zip = dir.filePath("a.vicinal");
        p.start("python3", {"-c",
                            "import sys, zipfile\nz = zipfile.ZipFile(sys.argv[1], 'w', "
                            "zipfile.ZIP_DEFLATED)\nz.write(sys.argv[2], 'document.json')\nz.close()",
                            zip, file.c_str()});
        QVERIFY(p.waitForFinished() && p.exitCode() == 0);
        file = zip.toStdString();
        QVERIFY(fs::file_size(file) < 200'000);
    }
    const auto r = openDocument(file, kNoBody);
    QVERIFY(!r);
    QVERIFY2(r.problem().text.size() < 600, r.problem().text.c_str());
}

void TestFiles::longChainsAreNoRecursion() {
    const Document d = chainOf(20'000);
    {
        const auto e = evaluate(d);
        QVERIFY(e->paths.at(20'000)->path.has_value());
        NEAR(e->paths.at(20'000)->path->length(), 1000, 1e-6);
        const auto again = evaluate(d, e); // all shared
        QCOMPARE(again->paths.at(20'000).get(), e->paths.at(20'000).get());
    } // and let go without one, either
    QVERIFY(follows(d, 20'000, 1));
    // Parts each made from the next, the deepest first in the document.
    Document parts;
    parts.nextId = 40'001;
    for (int i = 40'000; i >= 1; --i) {
        PartItem p{i, "p", Maker(Baluster{20, 20, 100}), {}};
        if (i > 1) p.shape = Pieces{{Piece{"", PartUse{i - 1}}}};
        parts.parts.push_back(std::make_shared<const PartItem>(std::move(p)));
    }
    QVERIFY(evaluate(parts)->parts.at(40'000)->body != nullptr);
    // A circle of all of them is said, not walked for ever.
    PartItem first = *parts.part(1);
    first.shape = Pieces{{Piece{"", PartUse{40'000}}}};
    const auto round = evaluate(with(parts, first));
    QVERIFY(round->parts.at(40'000)->problem && round->parts.at(40'000)->problem->text.size() < 600);
}

void TestFiles::piecesThatMultiplyAreBounded() {
    Document d;
    d = with(d, PartItem{0, "p", Maker(RoundLink{}), {}});
    for (int i = 1; i < 23; ++i) {
        Pieces two{{Piece{"", PartUse{i}}, Piece{"", PartUse{i}, {500.0 * i, 0, 0}}}};
        d = with(d, PartItem{0, "p", two, {}});
    }
    const auto e = evaluate(d);
    const auto& last = e->parts.at(23);
    QVERIFY2(last->problem && last->problem->text.find("triangles") != std::string::npos,
             last->problem ? last->problem->text.c_str() : "no problem");
    rusage use{};
    getrusage(RUSAGE_SELF, &use);
    QVERIFY2(use.ru_maxrss < 3'000'000, qPrintable(QString::number(use.ru_maxrss)));
}

void TestFiles::endlessWorkIsBounded() {
    // Each ends in a path or a message within seconds; the sizes are those just below and far above the bounds.
    const auto derived = [](PathRecipe source, Change change) {
        return evaluate(with(with(Document{}, PathItem{0, "source", std::move(source)}),
                             PathItem{0, "made", DerivedRecipe{1, change}}))
            ->paths.at(2);
    };
    for (double turns : {9.0, 9999.0}) {
        HelixShape helix, spiral;
        helix.turns = spiral.turns = turns;
        spiral.height = 0;
        spiral.radiusTop = 2000;
        for (const auto& [shape, change] : {std::pair{helix, Change(ProjectedTo{})}, {spiral, Change(OffsetOf{3})}}) {
            const auto made = derived(ShapeRecipe{shape}, change);
            QVERIFY2(made->path.has_value() == (turns < 100), made->problem ? made->problem->text.c_str() : "made");
            if (!made->path)
                QVERIFY2(made->problem->text.find("pieces") != std::string::npos, made->problem->text.c_str());
        }
        // Beside a screw line runs another one, however often it turns.
        const auto beside = derived(ShapeRecipe{helix}, OffsetOf{30});
        QVERIFY2(beside->path.has_value(), beside->problem ? beside->problem->text.c_str() : "");
        NEAR(beside->path->length(), std::hypot(2 * kPi * 770 * turns, 2400), 1e-4);
        NEAR(beside->path->at(0).point.x(), 770, 1e-9);
    }
    std::mt19937 random(1);
    std::uniform_real_distribution<double> jag(-5, 5);
    for (int n : {5'000, 200'000}) {
        PointsRecipe r;
        for (int i = 0; i < n; ++i) r.points.push_back({{double(i), jag(random), 0}, false});
        const auto made = derived(r, OffsetOf{30});
        QCOMPARE(made->path.has_value(), n < 10'000);
    }
}

void TestFiles::resampledCountsHaveBounds() {
    // A step longer than the path: the fewest points that make one.
    for (bool closed : {false, true}) {
        PathRecipe source =
            closed ? PathRecipe(ShapeRecipe{CircleShape{100}}) : PathRecipe(ShapeRecipe{StraightShape{}});
        Resampled r;
        r.step = 100'000;
        r.smooth = false;
        const auto d = with(with(Document{}, PathItem{0, "source", source}), PathItem{0, "made", DerivedRecipe{1, r}});
        const auto made = evaluate(d)->paths.at(2);
        QVERIFY2(made->path.has_value(), made->problem ? made->problem->text.c_str() : "");
        QCOMPARE(made->path->segments().size(), size_t(closed ? 3 : 1));
    }
    const auto made = [](bool closed, long count) {
        PathRecipe source =
            closed ? PathRecipe(ShapeRecipe{CircleShape{100}}) : PathRecipe(ShapeRecipe{StraightShape{}});
        Resampled r;
        r.byCount = true;
        r.count = count;
        return evaluate(with(with(Document{}, PathItem{0, "source", source}), PathItem{0, "made", DerivedRecipe{1, r}}))
            ->paths.at(2);
    };
    for (auto [closed, count, good] : {std::tuple{false, 1L, false},
                                       {false, 2L, true},
                                       {true, 2L, false},
                                       {true, 3L, true},
                                       {false, 100'000L, true},
                                       {false, 100'001L, false},
                                       {true, 0L, false},
                                       {false, -5L, false}}) {
        const auto p = made(closed, count);
        QVERIFY2(p->path.has_value() == good, qPrintable(QString("%1 %2").arg(closed).arg(count)));
        if (!good) QCOMPARE(p->problem->field, std::string("count"));
    }
}

void TestFiles::pathsThatGoOn() {
    // What lies at the end of a joined path, by either of its own ends, however many pieces it has.
    const auto bent = [](Vec3 a, Vec3 b, Vec3 c) { return PointsRecipe{{{a, false}, {b, false}, {c, false}}}; };
    Document d = with(Document{}, PathItem{0, "first", bent({0, 0, 0}, {50, 20, 0}, {100, 0, 0})});
    d = with(d, PathItem{0, "by its start", bent({100, 0.5, 0}, {150, 60, 0}, {200, 90, 0})});
    d = with(d, PathItem{0, "by its end", bent({400, 90, 0}, {300, 60, 0}, {100, -0.5, 0})});
    d = with(d, PathItem{0, "by its middle", bent({100, 300, 0}, {100, 0, 0}, {100, -300, 0})});
    d = with(d, PathItem{0, "joined", JoinedRecipe{{1}, 1}});
    const auto e = evaluate(d);
    const auto next = goingOn(*e, std::get<JoinedRecipe>(d.path(5)->recipe), *e->paths.at(5)->path);
    QCOMPARE(next, (std::vector<Id>{2, 3}));
}

void TestFiles::noValueThatCannotBeReadAgain() {
    // Every described value of every item, one after the other, made NaN, infinite or too large: refused by name, and
    // what is refused is just what the file would not give back.
    const Document quay = *openDocument(VICINAL_SOURCE "/examples/saltmarrow-quay.json", readBody);
    int tried = 0;
    for (double bad : {std::nan(""), std::numeric_limits<double>::infinity(), -2e9, 1e300}) {
        for (const auto& p : quay.paths) {
            if (const auto* points = std::get_if<PointsRecipe>(&p->recipe)) {
                PointsRecipe r = *points;
                r.points[1].at.y() = bad;
                PathItem item = *p;
                item.recipe = r;
                const auto wrong = defectOf(item);
                QVERIFY(wrong && wrong->text.find("Point 2") != std::string::npos);
                QVERIFY(!packed(with(quay, item)));
                ++tried;
            }
        }
        for (const auto& r : quay.runs)
            for (int k = 0; k < 6; ++k) {
                RunItem item = *r;
                item.spacing->rule = StepOff{};
                item.spacing->kept = {EvenOut{}}; // not in use, but it comes back
                double* const values[] = {&std::get<StepOff>(item.spacing->rule).pitch,
                                          &std::get<EvenOut>(item.spacing->kept[0]).about,
                                          &item.spacing->insetStart,
                                          &item.spacing->insetEnd,
                                          &item.spacing->slide,
                                          &item.facing.turn.y()};
                const char* const names[] = {"pitch", "about", "insetStart", "insetEnd", "slide", "turn"};
                *values[k] = bad;
                const auto wrong = defectOf(item);
                QVERIFY(wrong);
                QCOMPARE(wrong->field, std::string(names[k])); // the one that is wrong is blamed
                ++tried;
            }
        for (const auto& p : quay.parts) {
            PartItem item = *p;
            item.seat.point = Vec3(0, 0, bad);
            QCOMPARE(defectOf(item)->field, std::string("seatPoint"));
            for (int which = 0; which < 4; ++which) { // either of the pins and of the hooks
                item.seat = p->seat;
                item.seat.pins = item.seat.hooks = Pins{Vec3(-10, 0, 0), Vec3(10, 0, 0)};
                (which < 2 ? *item.seat.pins : *item.seat.hooks)[size_t(which % 2)].y() = bad;
                const auto wrong = defectOf(item);
                QVERIFY2(wrong && wrong->field == (which < 2 ? "pins" : "hooks"), wrong ? wrong->field.c_str() : "");
            }
            if (auto* m = std::get_if<Maker>(&item.shape)) {
                item.seat = p->seat;
                struct Spoil : IgnoreValues {
                    double to;
                    mutable std::string key;
                    void length(const char* k, const char*, const char*, double& v) const {
                        if (key.empty()) v = to, key = k;
                    }
                } spoil;
                spoil.to = bad;
                describe(spoil, *m);
                QCOMPARE(defectOf(item)->field, spoil.key);
            }
            ++tried;
        }
    }
    QVERIFY(tried > 100);
}

void TestFiles::theLargestCoordinates() {
    // At the stated size things still work; a hair beyond they are refused; nothing hangs.
    const auto evaluated = [](PathRecipe r) {
        return evaluate(with(Document{}, PathItem{0, "p", std::move(r)}))->paths.at(1);
    };
    const double L = kLargest / 3; // a spline goes beyond its points
    const PointsRecipe curve{{{{0, 0, 0}}, {{L / 2, L, 0}}, {{L, -L, 5}}, {{-L, 0, L}}}};
    const auto large = evaluated(curve);
    QVERIFY2(large->path.has_value(), large->problem ? large->problem->text.c_str() : "");
    NEAR(large->path->at(large->path->length()).point.x(), -L, 1);
    for (double beyond : {kLargest * 1.0001, 1e18, 1e250, std::nan("")}) {
        QVERIFY(evaluated(PointsRecipe{{{{0, 0, 0}}, {{beyond, 0, 0}}, {{1, 1, 0}}}})->problem);
        QVERIFY(evaluated(ShapeRecipe{StraightShape{{0, 0, beyond}, 1000, 0, 0}})->problem);
        HelixShape helix;
        helix.radius = helix.radiusTop = beyond;
        QVERIFY(evaluated(ShapeRecipe{helix})->problem);
        QVERIFY(evaluated(BroughtCurve{
                              {Bezier{{Vec3(0, 0, 0), Vec3(beyond, 0, 0), Vec3(0, 1, 0), Vec3(9, 9, 9)}}}, false, ""})
                    ->problem);
    }
    HelixShape many;
    many.turns = 9999;
    const auto helix = evaluated(ShapeRecipe{many});
    QVERIFY(helix->path.has_value());
    NEAR(helix->path->length(), std::hypot(2 * kPi * 800 * 9999, 2400), 1e-3);
}

void TestFiles::journalsOfTheDead() {
    QTemporaryDir dir;
    const fs::path place = fs::path(dir.path().toStdString()) / "journal";
    const Document quay = *openDocument(VICINAL_SOURCE "/examples/saltmarrow-quay.json", readBody);
    {
        Journal mine(place);
        QVERIFY(!mine.write(quay, {"/some/file.vicinal", "Quay"}));
        QVERIFY(leftJournals(place).empty()); // held
        const Document edited = without(quay, quay.runs[0]->id);
        QVERIFY(!mine.write(edited, {"/some/file.vicinal", "Quay"}));
        for (const auto& e : fs::directory_iterator(place)) fs::copy(e, place / "dead", fs::copy_options::recursive);
        const auto left = leftJournals(place);
        QCOMPARE(left.size(), size_t(1));
        QCOMPARE(left[0].facts.file, std::string("/some/file.vicinal"));
        const auto back = openJournal(left[0], readBody);
        QVERIFY(bool(back));
        QCOMPARE(QString::fromStdString(toJson(*back)), QString::fromStdString(toJson(edited)));
        removeJournal(left[0]);
    }
    QVERIFY(fs::is_empty(place)); // an orderly end leaves nothing
    // Killed before the first entry was whole: nothing to offer, nothing left.
    fs::create_directories(place / "broken");
    std::ofstream(place / "broken/lock");
    QVERIFY(leftJournals(place).empty());
    QVERIFY(fs::is_empty(place));
    // A place that cannot be written says so.
    std::ofstream(fs::path(dir.path().toStdString()) / "plain");
    Journal nowhere(fs::path(dir.path().toStdString()) / "plain");
    QVERIFY(nowhere.write(quay, {}));
}

void TestFiles::oddJournalsHideNoOther() {
    QTemporaryDir dir;
    const fs::path place = dir.path().toStdString();
    const auto put = [&](const std::string& name, const std::string& about) {
        fs::create_directories(place / name);
        std::ofstream(place / name / "lock");
        std::ofstream(place / name / "document.json") << toJson(chainOf(2));
        std::ofstream(place / name / "about.json") << about;
    };
    put("fine", R"({"file":"/quay/a.vicinal","title":"A","time":17})");
    put("numbers", R"({"file":7,"title":["x"],"time":"yesterday"})");
    put("list", "[1, 2]");
    put("cut", R"({"file":"/quay/b)");
    put("relative", R"({"file":"b.vicinal","title":"B","time":18})");
    put("huge", R"({"file":"/quay/c.vicinal","title":"C","time":1e300})");
    fs::create_directory_symlink("/etc", place / "link"); // not followed
    const auto left = leftJournals(place);
    QCOMPARE(left.size(), size_t(6));
    QCOMPARE(left[0].facts.title, std::string("B")); // the newest
    QVERIFY(left[0].facts.file.empty());             // of what folder, nobody knows
    QCOMPARE(left[1].facts.file, std::string("/quay/a.vicinal"));
    for (const auto& l : left) QVERIFY(bool(openJournal(l, readBody)));
}

void TestFiles::theOldBytesOfAKilledWriterAreKept() {
    QTemporaryDir dir;
    const fs::path base = dir.path().toStdString(), copies = base / "copies", file = base / "quay.vicinal";
    QVERIFY(!saveDocument(chainOf(2), file));
    const std::string before = *readFile(file);
    fs::create_hard_link(file, base / "twin"); // two names: written in place
    // A child holds its copy and is killed before it is done.
    int ready[2];
    QCOMPARE(pipe(ready), 0);
    const pid_t child = fork();
    if (child == 0) {
        auto kept = KeptCopy::of(file, before, copies);
        char ok = kept ? 'y' : 'n';
        if (write(ready[1], &ok, 1) != 1) _exit(1);
        pause();
        _exit(0);
    }
    char ok = 0;
    QCOMPARE(read(ready[0], &ok, 1), ssize_t(1));
    QCOMPARE(ok, 'y');
    QVERIFY(leftCopies(copies).empty()); // held
    kill(child, SIGKILL);
    QCOMPARE(waitpid(child, nullptr, 0), child);
    std::ofstream(file) << "half of it"; // as it was left
    for (int round = 0; round < 2; ++round) {
        QVERIFY(!writeAtomically(base / "twin", "new", {.copies = copies})); // sweeps nothing of it
        const auto left = leftCopies(copies);
        QCOMPARE(left.size(), size_t(1));
        QCOMPARE(left[0].facts.file, file.string());
        QCOMPARE(*readFile(left[0].copy), before);
        const auto back = openJournal(left[0], readBody);
        QVERIFY(bool(back));
        QCOMPARE(toJson(*back), toJson(chainOf(2)));
        struct stat s {};
        QVERIFY(stat(left[0].folder.c_str(), &s) == 0 && (s.st_mode & 0077) == 0);
    }
    removeJournal(leftCopies(copies).front());
    QVERIFY(fs::is_empty(copies));
}

void TestFiles::changesOfTwoAreBothThere() {
    QTemporaryDir dir;
    const fs::path file = dir.filePath("n").toStdString();
    QVERIFY(!writeAtomically(file, "0"));
    // Each reads a number, waits a little and writes it one higher, by a new file in place of the old one.
    constexpr int kThreads = 4, kTimes = 25;
    std::atomic<int> failed = 0;
    std::vector<std::thread> all;
    for (int t = 0; t < kThreads; ++t)
        all.emplace_back([&] {
            for (int k = 0; k < kTimes; ++k) {
                const auto lock = ChangeLock::of(file, 60);
                const auto text = readFile(file);
                if (!lock || !text) return void(++failed);
                std::this_thread::yield();
                if (writeAtomically(file, std::to_string(std::stoi(*text) + 1))) ++failed;
            }
        });
    for (auto& t : all) t.join();
    QCOMPARE(failed.load(), 0);
    QCOMPARE(*readFile(file), std::to_string(kThreads * kTimes));
    const auto held = ChangeLock::of(file);
    QVERIFY(bool(held));
    const auto second = ChangeLock::of(file, 0.02);
    QVERIFY(!second && second.problem().text.find("being changed by another program") != std::string::npos);
    QVERIFY(bool(ChangeLock::of(dir.filePath("not there").toStdString(), 0))); // nothing to hold
}

VICINAL_SUITE(TestFiles)

} // namespace test_files
#include "test_files.moc"
