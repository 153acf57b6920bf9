#pragma once
// The check sheet: what is handed to whoever signs. As pages of a PDF, and as HTML of one file.
#include "base/quantity.h"
#include "exchange/sheet/sheet.h"
#include "model/verdicts/checked.h"

namespace vicinal {

struct CheckSheetFacts {
    std::string title;            ///< of the document
    std::string file;             ///< empty: not saved
    std::string date;             ///< as 2026-11-27
    Unit unit = Unit::Millimetre; ///< of lengths
};

/// A check as it is written down.
struct WrittenCheck {
    std::string title, rule, limits, verdict, text; ///< verdict: "good", "doubtful", "wrong", "off"
    Mark mark = Mark::Good;
    bool off = false;
    std::vector<std::string> notes; ///< remarks, and what is excused by whom
    Sheet picture;                  ///< of the worst place, 58 x 40 mm; no inks: there is nothing to be seen
};
struct WrittenRun {
    std::string name, places, rule, text; ///< "6 places"; the run's own rule in words; its verdict
    Mark mark = Mark::Good;
    std::vector<WrittenCheck> rows;
};
/// Run by run. Stopped: without the pictures that were not reached.
std::vector<WrittenRun> checkRows(const Checked&, Unit, bool pictures, Job* = nullptr);

/// The worst place of a check as it is seen best, 58 x 40 mm; no inks: there is nothing to be seen.
Sheet checkPicture(const Evaluation&, const RunResult&, const CheckResult&, Job* = nullptr);

/// A4, as many pages as it takes.
std::vector<Sheet> checkSheetPages(const std::vector<WrittenRun>&, const CheckSheetFacts&);
std::string checkSheetHtml(const std::vector<WrittenRun>&, const CheckSheetFacts&);

/// All checks as JSON: runs with their checks, limits, values, worst places (numbers from 1).
std::string checksJson(const Checked&);

/// By the ending of `to`: .pdf, .html or .htm; what is in the file. Problem: another ending.
Result<std::string> checkSheetFile(const std::string& to, const Checked&, const CheckSheetFacts&, Job* = nullptr);

} // namespace vicinal
