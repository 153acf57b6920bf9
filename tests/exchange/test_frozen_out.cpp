// Everything that goes out of the demo's documents, against what went out before: a number that changes anywhere - in a
// drawing, a list, a template, a check sheet, a solid - is noticed, meant or not. It is no proof that they are right:
// that is what the other suites are for. Frozen anew, after a look at what changed, by VICINAL_FREEZE=1.
#include "exchange/checks/check_sheet.h"
#include "exchange/delivery/make.h"
#include "frozen.h"
#include "model/file/document_file.h"
#include "model/file/files.h"
#include "suite.h"
#include <algorithm>
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
    return d;
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
    TemplateOrder paper;
    paper.noses = paper.numbers = paper.paths = true;
    out.emplace_back("template", of(paper, "dxf"));
    paper.plane = TemplatePlane::Unrolled;
    paper.mirrored = true;
    out.emplace_back("template unrolled, mirrored", of(paper, "svg"));
    paper = {};
    paper.of = TemplateOf::Parts;
    out.emplace_back("template of parts", of(paper, "svg"));
    TapeOrder tape;
    out.emplace_back("tape", of(tape, "csv"));
    SolidsOrder solids;
    solids.within = 1;
    out.emplace_back("solids", of(solids, "dxf"));
    out.emplace_back("meshes", of(solids, "obj"));
    PictureOrder lines;
    lines.of = PictureOf::Lines;
    out.emplace_back("lines", of(lines, "svg"));
    return out;
}

} // namespace

class TestFrozenOut : public QObject {
    Q_OBJECT
private slots:
    void whatGoesOutIsAsItWas();
};

void TestFrozenOut::whatGoesOutIsAsItWas() {
    Digests now;
    for (const char* name : {"rules", "site", "quay"}) {
        const auto d = openDocument(VICINAL_SOURCE "/examples/saltmarrow-" + std::string(name) + ".json", readBody);
        QVERIFY2(bool(d), d ? "" : d.problem().text.c_str());
        const auto e = evaluate(*d);
        // What sheets have room for: the shortest ones.
        std::vector<std::shared_ptr<const RunResult>> shortest;
        for (const auto& r : e->runs)
            if (r->placed && !r->problem && r->placed->bodies() < 60) shortest.push_back(r);
        std::sort(shortest.begin(), shortest.end(),
                  [](const auto& a, const auto& b) { return a->placed->path.length() < b->placed->path.length(); });
        for (const auto& [what, order] : deliveries()) {
            Delivery one = order;
            const size_t room = std::holds_alternative<DrawingOrder>(one.order)    ? 3
                                : std::holds_alternative<PictureOrder>(one.order)  ? 3
                                : std::holds_alternative<TemplateOrder>(one.order) ? 2
                                                                                   : 0;
            for (size_t k = 0; k < std::min(room, shortest.size()); ++k) one.what.push_back(shortest[k]->item->id);
            if (what == "meshes" && std::string(name) != "rules") continue; // megabytes
            const auto ready = readied(one, *e);
            Digest& s = now[std::string(name) + ": " + what];
            if (!ready) { // nothing of that kind in this document: that is an answer, too
                s.say(ready.problem().text);
                continue;
            }
            for (const auto& line : ready->says) s.say(line);
            for (const auto& w : ready->remarks) s.say(w.in(1, "mm"));
            const auto files = filesOf(*ready);
            if (!files) s.say(files.problem().text);
            if (files)
                for (const OutFile& f : *files) s.say(f.name), s.say(f.bytes);
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
            s.say(size.str());
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

VICINAL_SUITE(TestFrozenOut)

} // namespace test_frozen_out
#include "test_frozen_out.moc"
