// Everything that goes out of the demo's documents, against what went out before: a number that changes anywhere - in a
// drawing, a list, a template, a check sheet, a solid - is noticed, meant or not. It is no proof that they are right:
// that is what the other suites are for. Frozen anew, after a look at what changed, by VICINAL_FREEZE=1.
#include "exchange/checks/check_sheet.h"
#include "exchange/delivery/make.h"
#include "made.h"
#include "model/file/document_file.h"
#include "model/file/files.h"
#include "suite.h"
#include <QFile>
#include <algorithm>
#include <cmath>
#include <cstdlib>
#include <map>
#include <sstream>

namespace test_frozen_out {

using namespace vicinal;
using namespace vicinal::test;

namespace {

constexpr const char* kFrozen = VICINAL_SOURCE "/tests/exchange/frozen/out.txt";

/// A text as what it says besides numbers, how many of those there are, and three sums of them: of the numbers, of
/// their sizes, and weighted by where they stand.
struct Summary {
    std::uint64_t words = 14695981039346656037u; // FNV-1a
    long count = 0;
    double sum = 0, size = 0, order = 0;

    void add(const std::string& text) {
        const char* at = text.c_str();
        const char* const end = at + text.size();
        while (at < end) {
            const bool inWord =
                at > text.c_str() && (std::isalpha(static_cast<unsigned char>(at[-1])) || at[-1] == '#');
            const bool digit = std::isdigit(static_cast<unsigned char>(*at)) ||
                               (*at == '-' && at + 1 < end && std::isdigit(static_cast<unsigned char>(at[1])));
            char* behind = nullptr;
            const double v = digit && !inWord ? std::strtod(at, &behind) : 0;
            if (behind && behind > at && std::isfinite(v)) {
                ++count;
                sum += v;
                size += std::abs(v);
                order += double(count % 97 + 1) * v;
                at = behind;
            } else {
                words = (words ^ static_cast<unsigned char>(*at++)) * 1099511628211u;
            }
        }
    }
    bool like(const Summary& o) const {
        // Last digits of what is printed may fall to either side on another processor.
        const double slack = 1e-9 * (1 + std::max(size, o.size)) + 2e-6 * double(count) / 100;
        return words == o.words && count == o.count && std::abs(sum - o.sum) <= slack &&
               std::abs(size - o.size) <= slack && std::abs(order - o.order) <= 100 * slack;
    }
    std::string said() const {
        std::ostringstream out;
        out.precision(12);
        out << std::hex << words << std::dec << " " << count << " " << sum << " " << size << " " << order;
        return out.str();
    }
};

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
    std::map<std::string, Summary> now;
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
            Summary& s = now[std::string(name) + ": " + what];
            if (!ready) { // nothing of that kind in this document: that is an answer, too
                s.add(ready.problem().text);
                continue;
            }
            for (const auto& line : ready->says) s.add(line);
            for (const auto& w : ready->remarks) s.add(w.in(1, "mm"));
            const auto files = filesOf(*ready);
            if (!files) s.add(files.problem().text);
            if (files)
                for (const OutFile& f : *files) s.add(f.name), s.add(f.bytes);
        }
        for (const auto& r : e->runs) {
            Summary& s = now[std::string(name) + ": run " + r->item->name];
            s.add(r->problem ? r->problem->text : r->verdict.text);
            for (const auto& w : r->remarks) s.add(w.in(1, "mm"));
            if (const auto rows = fitsOf(*r))
                for (const Fit& f : *rows) {
                    std::ostringstream row;
                    row << f.count << " " << f.pitch << " " << f.gapLeast << " " << f.gapMost << " " << f.leftOver
                        << " " << f.value << " " << f.closing.value_or(-1) << " " << f.play.value_or(-1) << " "
                        << f.inUse << f.over << f.under << "\n";
                    s.add(row.str());
                }
        }
        if (std::string(name) == "site") continue; // its many cuts take long to check
        CheckMemory memory;
        const auto all = check(e, memory);
        Summary& s = now[std::string(name) + ": checks"];
        CheckSheetFacts facts;
        facts.title = "Checks", facts.file = "file", facts.date = "2026-11-30";
        s.add(checkSheetHtml(checkRows(*all, Unit::Millimetre, true), facts));
        for (const Sheet& page : checkSheetPages(checkRows(*all, Unit::Inch, true), facts)) {
            std::ostringstream size;
            size << page.name << " " << page.width << " " << page.height << " " << page.inks.size();
            s.add(size.str());
            for (const Label& l : page.labels) {
                std::ostringstream label;
                label << l.at.x() << " " << l.at.y() << " " << l.height << " " << l.text;
                s.add(label.str());
            }
        }
    }
    if (qEnvironmentVariableIsSet("VICINAL_FREEZE")) {
        QFile f(kFrozen);
        QVERIFY(f.open(QIODevice::WriteOnly));
        for (const auto& [what, s] : now) f.write((what + "\t" + s.said() + "\n").c_str());
        return;
    }
    std::istringstream frozen(made(readFile(kFrozen)));
    size_t lines = 0;
    for (std::string line; std::getline(frozen, line); ++lines) {
        const size_t tab = line.find('\t');
        Summary was;
        std::istringstream row(line.substr(tab + 1));
        row >> std::hex >> was.words >> std::dec >> was.count >> was.sum >> was.size >> was.order;
        const auto found = now.find(line.substr(0, tab));
        QVERIFY2(found != now.end(), line.c_str());
        if (!found->second.like(was))
            qWarning("%s: was %s, is %s", found->first.c_str(), was.said().c_str(), found->second.said().c_str());
        now[found->first].count -= found->second.like(was) ? 0 : 1000000000; // told at the end, all of them
    }
    QCOMPARE(lines, now.size());
    for (const auto& [what, s] : now) QVERIFY2(s.count >= 0, what.c_str());
}

VICINAL_SUITE(TestFrozenOut)

} // namespace test_frozen_out
#include "test_frozen_out.moc"
