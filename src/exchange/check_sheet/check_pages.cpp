#include "exchange/check_sheet/check_sheet.h"
#include "exchange/out/xml.h"
#include "exchange/sheet/writers.h"
#include <algorithm>
#include <cctype>

namespace vicinal {
namespace {

constexpr double kLeft = 18, kRight = 192, kTop = 281, kFoot = 16; ///< mm
constexpr double kRowText = 2.1, kRowLine = 4.4;                   ///< capitals; from line to line

/// Lines of at most so many letters, broken at blanks.
std::vector<std::string> wrapped(const std::string& text, size_t letters) {
    std::vector<std::string> out;
    std::string line;
    size_t length = 0; // letters, not bytes
    const auto count = [](const std::string& s) {
        return size_t(std::count_if(s.begin(), s.end(), [](char c) { return (c & 0xC0) != 0x80; }));
    };
    std::string word;
    const auto put = [&] {
        if (word.empty()) return;
        if (!line.empty() && length + 1 + count(word) > letters) {
            out.push_back(line);
            line.clear();
            length = 0;
        }
        length += count(word) + (line.empty() ? 0 : 1);
        line += (line.empty() ? "" : " ") + word;
        word.clear();
    };
    for (const char c : text) {
        if (c == ' ')
            put();
        else
            word += c;
    }
    put();
    if (!line.empty()) out.push_back(line);
    return out;
}

size_t lettersIn(double mm, double height) { return size_t(mm / (height * 0.79)); }

class Pages {
public:
    Pages(const CheckSheetFacts& facts) : m_facts(facts) { fresh(); }

    void fresh() {
        Sheet s;
        s.width = 210;
        s.height = 297;
        s.name = std::to_string(m_pages.size() + 1);
        m_pages.push_back(std::move(s));
        m_y = kTop;
    }
    /// There is room for so much, else on the next page.
    void room(double mm) {
        if (m_y - mm < kFoot + 8) fresh();
    }
    void down(double mm) { m_y -= mm; }
    double y() const { return m_y; }
    void text(double x, const std::string& t, double height = kRowText, bool bold = false, double grey = 0,
              Anchor anchor = Anchor::Left) {
        Label l;
        l.at = {x, m_y};
        l.text = t;
        l.height = height;
        l.bold = bold;
        l.grey = grey;
        l.anchor = anchor;
        m_pages.back().labels.push_back(std::move(l));
    }
    void rule(double grey = 0.6, double width = 0.2) { line({kLeft, m_y}, {kRight, m_y}, {width, grey}); }
    void line(const Vec2& a, const Vec2& b, const Pen& pen) {
        Ink i;
        i.pieces = {Line{Vec3(a.x(), a.y(), 0), Vec3(b.x(), b.y(), 0)}};
        i.pen = pen;
        m_pages.back().inks.push_back(std::move(i));
    }
    /// A sign, so that no colour is needed: a tick, a triangle, a cross.
    void sign(double x, Mark mark, bool off) {
        const double y = m_y, h = 2.2;
        const Pen pen{0.45, 0};
        if (off)
            line({x, y + h / 2}, {x + h, y + h / 2}, {0.3, 0.5});
        else if (mark == Mark::Good) {
            line({x, y + 0.9}, {x + 0.8, y}, pen);
            line({x + 0.8, y}, {x + 2.3, y + h}, pen);
        } else if (mark == Mark::Doubtful) {
            line({x, y}, {x + 2.4, y}, pen);
            line({x, y}, {x + 1.2, y + h}, pen);
            line({x + 2.4, y}, {x + 1.2, y + h}, pen);
        } else {
            line({x, y}, {x + h, y + h}, pen);
            line({x, y + h}, {x + h, y}, pen);
        }
    }
    void picture(const Sheet& s, double x, double top) {
        for (Ink ink : s.inks) {
            for (Segment& piece : ink.pieces) piece = moved(piece, Mat3::Identity(), Vec3(x, top - s.height, 0));
            m_pages.back().inks.push_back(std::move(ink));
        }
        const Pen frame{0.15, 0.7};
        const Vec2 a(x, top), b(x + s.width, top), c(x + s.width, top - s.height), d(x, top - s.height);
        line(a, b, frame);
        line(b, c, frame);
        line(c, d, frame);
        line(d, a, frame);
    }
    std::vector<Sheet> done() {
        const size_t n = m_pages.size();
        for (size_t i = 0; i < n; ++i) {
            const auto put = [&](double x, const std::string& t, Anchor anchor) {
                Label l;
                l.at = {x, kFoot - 4};
                l.text = t;
                l.height = 1.8;
                l.grey = 0.4;
                l.anchor = anchor;
                m_pages[i].labels.push_back(std::move(l));
            };
            put(kLeft,
                m_facts.title + " \u00b7 check sheet \u00b7 " + m_facts.date + " \u00b7 Vicinal " VICINAL_VERSION,
                Anchor::Left);
            put(kRight, std::to_string(i + 1) + " / " + std::to_string(n), Anchor::Right);
        }
        return std::move(m_pages);
    }

private:
    const CheckSheetFacts& m_facts;
    std::vector<Sheet> m_pages;
    double m_y = kTop;
};

std::string verdictLine(const std::vector<WrittenRun>& runs) {
    size_t wrong = 0, doubtful = 0;
    for (const auto& r : runs) {
        wrong += r.mark == Mark::Wrong;
        doubtful += r.mark == Mark::Doubtful;
    }
    return std::to_string(runs.size()) + (runs.size() == 1 ? " run: " : " runs: ") + std::to_string(wrong) +
           " wrong, " + std::to_string(doubtful) + " doubtful, " + std::to_string(runs.size() - wrong - doubtful) +
           " good";
}

} // namespace

std::vector<Sheet> checkSheetPages(const std::vector<WrittenRun>& runs, const CheckSheetFacts& facts) {
    Pages p(facts);
    p.down(4);
    p.text(kLeft, "Check sheet", 4.6, true);
    p.down(8);
    p.text(kLeft, facts.title, 3, true);
    p.down(kRowLine + 1);
    for (const std::string& line : wrapped((facts.file.empty() ? "not saved to a file" : facts.file) + " \u00b7 " +
                                               facts.date + " \u00b7 Vicinal " VICINAL_VERSION,
                                           lettersIn(kRight - kLeft, kRowText))) {
        p.text(kLeft, line, kRowText, false, 0.3);
        p.down(kRowLine);
    }
    p.text(kLeft, verdictLine(runs) + ".", kRowText);
    p.down(5);
    for (const WrittenRun& run : runs) {
        p.room(run.rows.empty() ? 30 : 72); // no run's name alone at a page's foot
        p.down(5);
        p.rule(0.2, 0.35);
        p.down(6);
        p.sign(kLeft, run.mark, false);
        p.text(kLeft + 5, run.name, 3, true);
        p.text(kRight, run.places, kRowText, false, 0.3, Anchor::Right);
        p.down(kRowLine + 0.6);
        for (const auto& [text, grey] : {std::pair{&run.rule, 0.3}, {&run.text, 0.0}})
            for (const std::string& line : wrapped(*text, lettersIn(kRight - kLeft - 5, kRowText))) {
                p.text(kLeft + 5, line, kRowText, false, grey);
                p.down(kRowLine);
            }
        for (const WrittenCheck& row : run.rows) {
            const bool seen = !row.picture.inks.empty();
            const double width = kRight - kLeft - 5 - (seen ? 62 : 0);
            const size_t letters = lettersIn(width, kRowText);
            std::vector<std::pair<std::string, double>> lines; // with its grey
            for (const auto& l : wrapped(row.rule, letters)) lines.emplace_back(l, 0.4);
            for (const auto& l : wrapped("Limits: " + row.limits + ".", letters)) lines.emplace_back(l, 0);
            for (const auto& l : wrapped(row.text, letters)) lines.emplace_back(l, 0);
            for (const auto& note : row.notes)
                for (const auto& l : wrapped(note, letters)) lines.emplace_back(l, 0.3);
            const double high = std::max(5 + kRowLine * double(lines.size()), seen ? row.picture.height + 3 : 0.0);
            p.room(std::min(high + 6, 200.0));
            p.down(1.5);
            p.rule();
            const double top = p.y();
            if (seen) p.picture(row.picture, kRight - row.picture.width, top - 1.5);
            p.down(5);
            p.sign(kLeft, row.mark, row.off);
            p.text(kLeft + 5, row.title, 2.3, true);
            p.text(kLeft + 5 + width - 2, row.verdict, kRowText, true, 0, Anchor::Right);
            for (const auto& [line, grey] : lines) {
                p.down(kRowLine);
                if (p.y() < kFoot + 6) p.fresh();
                p.text(kLeft + 5, line, kRowText, false, grey);
            }
            if (p.y() < top && top - p.y() < high) p.down(high - (top - p.y()));
        }
    }
    p.room(24);
    p.down(14);
    p.rule(0.2, 0.25);
    p.down(kRowLine);
    p.text(kLeft, "Checked by", kRowText, false, 0.4);
    p.text((kLeft + kRight) / 2, "Date", kRowText, false, 0.4);
    return p.done();
}

std::string checkSheetHtml(const std::vector<WrittenRun>& runs, const CheckSheetFacts& facts) {
    std::string out = "<!DOCTYPE html>\n<html lang=\"en\"><head><meta charset=\"utf-8\"><title>" + xmlText(facts.title);
    out += ": check sheet</title>\n<style>\n"
           "body{font:14px/1.45 Inter,'Vicinal Sans',sans-serif;color:#23272b;background:#fbfaf7;max-width:960px;"
           "margin:32px auto;padding:0 24px}\n"
           "h1{font-size:24px;margin:0}h2{font-size:18px;margin:32px 0 4px;border-top:2px solid "
           "#23272b;padding-top:12px}\n"
           "h3{font-size:15px;margin:0}p{margin:2px 0}.rule,.facts{color:#6a6f73}.check{display:flex;gap:20px;"
           "border-top:1px solid #d9d6cf;padding:10px 0}.words{flex:1}\n"
           ".sign{display:inline-block;width:1.4em}.good{color:#41702c}.doubtful{color:#9a6b00}.wrong{color:#a8321f}"
           ".off{color:#6a6f73}\n"
           "svg{width:58mm;height:40mm;border:1px solid #d9d6cf;background:#fff}"
           "@media print{body{margin:0}.check{break-inside:avoid}}\n</style></head><body>\n";
    out += "<h1>Check sheet</h1><p><b>" + xmlText(facts.title) + "</b></p>\n<p class=\"facts\">";
    out += xmlText(facts.file.empty() ? "not saved to a file" : facts.file) + " \u00b7 " + facts.date +
           " \u00b7 Vicinal " VICINAL_VERSION "</p>\n<p>" + verdictLine(runs) + ".</p>\n";
    const auto sign = [](Mark m, bool off) { return std::string(off ? "\u2013" : signOf(m)); };
    const auto kind = [](Mark m, bool off) { return std::string(off ? "off" : wordOf(m)); };
    for (const WrittenRun& run : runs) {
        out += "<h2><span class=\"sign " + kind(run.mark, false) + "\">" + sign(run.mark, false) + "</span>";
        out += xmlText(run.name) + "</h2>\n<p class=\"facts\">" + run.places + " \u00b7 " + xmlText(run.rule) +
               "</p><p>" + xmlText(run.text) + "</p>\n";
        for (const WrittenCheck& row : run.rows) {
            out += "<div class=\"check\"><div class=\"words\"><h3><span class=\"sign " + kind(row.mark, row.off) +
                   "\">" + sign(row.mark, row.off) + "</span>";
            out += xmlText(row.title) + ": <span class=\"" + kind(row.mark, row.off) + "\">" + row.verdict +
                   "</span></h3>\n<p class=\"rule\">" + xmlText(row.rule) + "</p><p>Limits: " + xmlText(row.limits) +
                   ".</p><p>" + xmlText(row.text) + "</p>\n";
            for (const auto& note : row.notes) out += "<p class=\"facts\">" + xmlText(note) + "</p>\n";
            out += "</div>";
            if (!row.picture.inks.empty()) {
                std::string svg = svgOf(row.picture, row.title);
                if (const size_t at = svg.find("<svg"); at != std::string::npos) svg.erase(0, at);
                out += svg;
            }
            out += "</div>\n";
        }
    }
    return out + "</body></html>\n";
}

Result<std::string> checkSheetFile(const std::string& to, const Checked& checked, const CheckSheetFacts& facts,
                                   Job* job) {
    const auto ends = [&](const char* ending) {
        std::string low = to;
        std::transform(low.begin(), low.end(), low.begin(), [](unsigned char c) { return char(std::tolower(c)); });
        const std::string e = ending;
        return low.size() >= e.size() && low.compare(low.size() - e.size(), e.size(), e) == 0;
    };
    const bool pdf = ends(".pdf");
    if (!pdf && !ends(".html") && !ends(".htm"))
        return Problem{Words("A check sheet is a .pdf or a .html file, not \"") + to + "\".", "to"};
    const auto rows = checkRows(checked, facts.unit, true, job);
    if (!pdf) return checkSheetHtml(rows, facts);
    return pdfOf(checkSheetPages(rows, facts), facts.title + ": check sheet");
}

} // namespace vicinal
