// Everything that goes out of the demo's documents, against what went out before: a number that changes anywhere - in a
// drawing, a list, a template, a check sheet, a solid - is noticed, meant or not. It is no proof that they are right:
// that is what the other suites are for. Frozen anew, after a look at what changed, by VICINAL_FREEZE=1.
#include "base/describe.h"
#include "exchange/check_sheet/check_sheet.h"
#include "exchange/delivery/make.h"
#include "exchange/sheet/writers.h"
#include "frozen.h"
#include "model/chance.h"
#include "model/document/run_item.h"
#include "model/file/document_file.h"
#include "model/file/files.h"
#include "suite.h"
#include <algorithm>
#include <array>
#include <sstream>

namespace test_frozen_out {

using namespace vicinal;
using namespace vicinal::test;

namespace {

Delivery of(SendOrder order, const char* format) {
    Delivery d;
    d.name = "Out";
    d.order = std::move(order);
    d.format = format;
    d.fields = {{"Drawn by", "M. Tollan of the yard on the far side of Saltmarrow Quay, behind the rope walk"},
                {"Sheet", "7"}};
    return d;
}

/// What is drawn on a PDF's pages: its packed streams that are text. The rest holds fonts and the hour.
std::string drawnIn(const std::string& pdf) {
    std::string out;
    for (size_t at = pdf.find("stream\n"); at != std::string::npos; at = pdf.find("stream\n", at + 7)) {
        const size_t end = pdf.find("\nendstream", at);
        if (end == std::string::npos || pdf.compare(at - 2, 2, "\n ") == 0) continue;
        QByteArray packed("\0\0\0\0", 4);
        packed.append(pdf.data() + at + 7, qsizetype(end - at - 7));
        const QByteArray text = qUncompress(packed);
        const bool plain =
            std::all_of(text.begin(), text.end(), [](char c) { return c == '\n' || (c >= 32 && c < 127); });
        if (plain) out += text.toStdString();
        at = end;
    }
    return out;
}

std::vector<std::pair<std::string, Delivery>> deliveries() {
    std::vector<std::pair<std::string, Delivery>> out;
    for (const ScheduleOf of_ :
         {ScheduleOf::Places, ScheduleOf::Parts, ScheduleOf::Running, ScheduleOf::Bars, ScheduleOf::Webs}) {
        ScheduleOrder s;
        s.of = of_;
        s.gap = s.raised = true;
        s.origin = {120, -340, 15};
        s.north = 0.3;
        out.emplace_back("schedule " + std::to_string(int(of_)), of(s, "csv"));
        out.emplace_back("schedule as JSON " + std::to_string(int(of_)), of(s, "json"));
    }
    DrawingOrder drawing;
    drawing.side = drawing.oblique = drawing.unrolled = drawing.gaps = true;
    out.emplace_back("drawing", of(drawing, "svg"));
    drawing.hidden = HiddenLines::Dashed;
    drawing.landscape = false;
    out.emplace_back("drawing, hidden lines", of(drawing, "dxf"));
    out.emplace_back("drawing as PDF", of(drawing, "pdf"));
    TemplateOrder paper;
    paper.noses = paper.numbers = paper.paths = true;
    out.emplace_back("template", of(paper, "dxf"));
    paper.plane = TemplatePlane::Unrolled;
    paper.mirrored = true;
    out.emplace_back("template unrolled, mirrored", of(paper, "svg"));
    paper = {};
    paper.of = TemplateOf::Parts;
    out.emplace_back("template of parts", of(paper, "svg"));
    out.emplace_back("template as PDF", of(paper, "pdf"));
    out.emplace_back("template of many sheets", of(TemplateOrder{}, "pdf"));
    TapeOrder tape;
    out.emplace_back("tape", of(tape, "csv"));
    out.emplace_back("tape as PDF", of(tape, "pdf"));
    SolidsOrder solids;
    solids.within = 1;
    out.emplace_back("solids", of(solids, "dxf"));
    out.emplace_back("meshes", of(solids, "obj"));
    PictureOrder lines;
    lines.of = PictureOf::Lines;
    out.emplace_back("lines", of(lines, "svg"));
    return out;
}

/// One of the values of an order an odd one, the others as they are.
struct Odd : IgnoreValues {
    int which, how;
    mutable int met = 0;
    Odd(int value, int n) : which(value), how(n) {}
    bool mine() const { return met++ == which; }
    void length(const char*, const char*, const char*, double& v) const {
        if (mine()) v = std::array{0.0, -5.0, 1e7, 3.0}[size_t(how)];
    }
    void number(const char* k, const char* l, const char* t, double& v) const { length(k, l, t, v); }
    void angle(const char* k, const char* l, const char* t, double& v) const { length(k, l, t, v); }
    void count(const char*, const char*, const char*, long& v) const {
        if (mine()) v = std::array{0L, -5L, 100'000'000L, 77L}[size_t(how)];
    }
    void flag(const char*, const char*, const char*, bool& v) const {
        if (mine()) v = !v;
    }
    void point(const char*, const char*, const char*, Vec3& v) const {
        if (mine()) v = std::array{Vec3(0, 0, 0), Vec3(1, 2, 3), Vec3(1e7, 0, 0), Vec3(0, -1, 0)}[size_t(how)];
    }
    void direction(const char* k, const char* l, const char* t, Vec3& v) const { point(k, l, t, v); }
    template<class E> void choice(const char*, const char*, const char*, E& v, ChoiceWords words) const {
        if (mine()) v = E((int(v) + how + 1) % int(words.size()));
    }
};

/// What sheets have room for: the shortest ones first.
std::vector<std::shared_ptr<const RunResult>> shortestOf(const Evaluation& e) {
    std::vector<std::shared_ptr<const RunResult>> out;
    for (const auto& r : e.runs)
        if (r->placed && !r->problem && r->placed->bodies() < 60) out.push_back(r);
    std::sort(out.begin(), out.end(),
              [](const auto& a, const auto& b) { return a->placed->path.length() < b->placed->path.length(); });
    return out;
}

/// The order for as many runs as it has room for.
Delivery forSome(const std::string& what, Delivery one, std::span<const std::shared_ptr<const RunResult>> shortest) {
    const size_t room = std::holds_alternative<DrawingOrder>(one.order)                           ? 3
                        : std::holds_alternative<PictureOrder>(one.order)                         ? 3
                        : std::holds_alternative<TemplateOrder>(one.order) || one.format == "pdf" ? 2
                                                                                                  : 0;
    for (size_t k = 0; k < std::min(room, shortest.size()); ++k) one.what.push_back(shortest[k]->item->id);
    if (what == "template of many sheets" && !shortest.empty()) one.what = {shortest[shortest.size() / 2]->item->id};
    return one;
}

void goesOut(Digest& s, const Delivery& one, const Evaluation& e) {
    const auto ready = prepare(one, e);
    if (!ready) { // nothing of that kind in this document: that is an answer, too
        s.say(ready.problem().text);
        return;
    }
    for (const auto& line : ready->says) s.say(line);
    for (const auto& w : ready->remarks) s.say(w.in(1, "mm"));
    const auto files = filesOf(*ready);
    if (!files) s.say(files.problem().text);
    if (files)
        for (const OutFile& f : *files) s.say(f.name), s.say(f.name.ends_with(".pdf") ? drawnIn(f.bytes) : f.bytes);
}

} // namespace

class TestFrozenOut : public QObject {
    Q_OBJECT
private slots:
    void whatGoesOutIsAsItWas();
    void whatIsAskedOddlyIsToldAsItWas();
    void whatGoesOutByChance();
};

void TestFrozenOut::whatGoesOutIsAsItWas() {
    Digests now;
    for (const char* name : {"rules", "site", "quay"}) {
        const auto d = openDocument(VICINAL_SOURCE "/examples/saltmarrow-" + std::string(name) + ".json", readBody);
        QVERIFY2(bool(d), d ? "" : d.problem().text.c_str());
        const auto e = evaluate(*d);
        const auto shortest = shortestOf(*e);
        for (const auto& [what, order] : deliveries()) {
            Delivery one = forSome(what, order, shortest);
            if ((what == "meshes" || one.format == "pdf") && std::string(name) != "rules") continue; // megabytes
            goesOut(now[std::string(name) + ": " + what], one, *e);
        }
        for (const auto& r : e->runs) {
            Digest& s = now[std::string(name) + ": run " + r->item->name];
            s.say(r->problem ? r->problem->text : r->verdict.text);
            for (const auto& w : r->remarks) s.say(w.in(1, "mm"));
            if (const auto rows = fitsOf(*r))
                for (const Fit& f : *rows) {
                    std::ostringstream row;
                    row << f.count << " " << f.pitch << " " << f.gapLeast << " " << f.gapMost << " " << f.leftOver
                        << " " << f.value << " " << f.closing.value_or(-1) << " " << f.play.value_or(-1) << " "
                        << f.inUse << f.over << f.under << "\n";
                    s.say(row.str());
                }
        }
        if (std::string(name) == "site") continue; // its many cuts take long to check
        CheckMemory memory;
        const auto all = check(e, memory);
        Digest& s = now[std::string(name) + ": checks"];
        CheckSheetFacts facts;
        facts.title = "Checks", facts.file = "file", facts.date = "2026-11-30";
        s.say(checkSheetHtml(checkRows(*all, Unit::Millimetre, true), facts));
        for (const Sheet& page : checkSheetPages(checkRows(*all, Unit::Inch, true), facts)) {
            std::ostringstream size;
            size << page.name << " " << page.width << " " << page.height << " " << page.inks.size();
            s.say(size.str()), s.say(svgOf(page, "page"));
            for (const Label& l : page.labels) {
                std::ostringstream label;
                label << l.at.x() << " " << l.at.y() << " " << l.height << " " << l.text;
                s.say(label.str());
            }
        }
    }
    const auto changed = differences("out", now, true);
    for (const std::string& line : changed) qWarning("%s", line.c_str());
    QVERIFY(changed.empty());
}

void TestFrozenOut::whatIsAskedOddlyIsToldAsItWas() {
    Digests now;
    const auto d = openDocument(VICINAL_SOURCE "/examples/saltmarrow-site.json", readBody);
    const auto e = evaluate(*d);
    const auto put = [&](Digest& s, const Delivery& one) {
        const auto ready = prepare(one, *e);
        if (!ready) return s.say(ready.problem().text + "|" + ready.problem().field);
        for (const auto& line : ready->says) s.say(line);
        for (const auto& w : ready->remarks) s.say(w.in(1, "mm"));
        s.add(double(ready->pages.size())), s.say(fileNameOf(one)), s.add(double(needsWindow(one)));
    };
    const Id run = d->run("Drain slots")->id;
    std::vector<std::vector<Id>> whats{{}, {run}, {9999}};
    if (!d->bodies.empty()) whats.push_back({d->bodies[0]->id});
    if (!d->heaps.empty()) whats.push_back({d->heaps[0]->id});
    whats.push_back({d->paths[0]->id});
    for (const SendOrder& order :
         {SendOrder(TemplateOrder{}), SendOrder(TapeOrder{}), SendOrder(DrawingOrder{}), SendOrder(SolidsOrder{}),
          SendOrder(ScheduleOrder{}), SendOrder(PictureOrder{}), SendOrder(PictureOrder{PictureOf::Turntable})}) {
        Digest& s = now[std::visit([](const auto& o) { return std::string(o.words.file); }, order)];
        for (const char* format : formatsOf(order)) {
            for (const auto& what : whats) {
                if (what.empty() && !std::holds_alternative<ScheduleOrder>(order)) continue; // all of it takes long
                Delivery one = of(order, format);
                one.what = what;
                put(s, one);
            }
            Delivery one = of(order, format);
            one.what = {run};
            put(s, one);
            const bool meshes = std::holds_alternative<SolidsOrder>(order) && std::string(format) != "glb";
            for (int value = 0; value < (meshes ? 0 : 24); ++value)
                for (int how = value % 2; how < 4; how += 2) {
                    one.order = order;
                    const Odd odd(value, how);
                    std::visit([&](auto& o) { describe(odd, o); }, one.order);
                    if (value < odd.met) put(s, one);
                }
        }
    }
    const auto changed = differences("odd", now, true);
    for (const std::string& line : changed) qWarning("%s", line.c_str());
    QVERIFY(changed.empty());
}

void TestFrozenOut::whatGoesOutByChance() {
    Digests now;
    const auto all = deliveries();
    const int alone = qEnvironmentVariableIntValue("VICINAL_DOCUMENT");
    for (int seed = alone ? alone : 1; seed <= (alone ? alone : 90); ++seed) {
        const Document d = documentByChance(std::uint64_t(seed));
        const auto e = evaluate(d);
        const auto shortest = shortestOf(*e);
        Dice dice{std::uint64_t(seed)};
        for (size_t k = size_t(seed) % 3; k < all.size(); k += 3) {
            const auto& [what, order] = all[k];
            Delivery one = forSome(what, order, shortest);
            std::visit([&](auto& o) { describe(Varied(dice, d, 6), o); }, one.order);
            if (what == "meshes" && one.what.empty() && e->runs.size() > 2) continue; // megabytes
            goesOut(now[std::to_string(seed) + ": " + what], one, *e);
        }
    }
    const auto changed = differences("out_by_chance", now, true);
    for (const std::string& line : changed) qWarning("%s", line.c_str());
    QVERIFY(changed.empty() || alone);
}

VICINAL_SUITE(TestFrozenOut)

} // namespace test_frozen_out
#include "test_frozen_out.moc"
