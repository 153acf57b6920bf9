#include "base/say.h"
#include "cli/commands.h"
#include "cli/common.h"
#include "exchange/in/path_items.h"
#include "model/document/defects.h"
#include "model/document/part_item.h"
#include "model/file/document_file.h"
#include <cstdio>

namespace vicinal::cli {

namespace {

double factorOf(const BringInOrder& order, double known, std::optional<Problem>& problem) {
    if (order.unit.empty()) {
        if (!(known > 0))
            problem = Problem{
                say::value(order.file) + " does not say its unit. Say it with --unit mm, cm, m, in or ft.", "unit"};
        return known;
    }
    const auto unit = unitNamed(order.unit);
    if (!unit) {
        problem = unit.problem();
        return 0;
    }
    return millimetresPer(*unit);
}

Result<Document> withPaths(Document d, const BringInOrder& order) {
    auto file = readCurves(order.file);
    if (!file) return file.problem();
    std::optional<Problem> problem;
    const double factor = factorOf(order, file->millimetresPerUnit, problem);
    if (problem) return *problem;
    auto strands = pathsOf(file.value(), factor, order.join);
    if (!strands) return strands.problem();
    if (!order.layer.empty()) std::erase_if(strands.value(), [&](const Strand& s) { return s.layer != order.layer; });
    if (strands->empty())
        return Problem{say::value(order.file) + " has no curve on the layer \"" + order.layer + "\".", "layer"};
    for (const auto& remark : file->remarks) std::fprintf(stderr, "vicinal-cli: %s\n", remark.c_str());
    return with(std::move(d), pathItems(*strands, order.file));
}

Result<Document> withPoints(Document d, const BringInOrder& order) {
    const std::string file = std::filesystem::path(order.file).filename().string();
    const char* useless = order.asPart           ? "--as-part"
                          : !order.layer.empty() ? "--layer"
                          : order.join > 0       ? "--join"
                          : order.thickness > 0  ? "--thickness"
                                                 : nullptr;
    if (useless)
        return Problem{say::value(file) + " holds points, which give one path: leave " + useless + " out.", ""};
    auto points = readPointFile(order.file);
    if (!points) return points.problem();
    std::optional<Problem> problem;
    const double factor = factorOf(order, 0, problem);
    if (problem) return *problem;
    return with(std::move(d), pointsItem(*points, factor, order.smooth, order.closed, order.file));
}

Result<Document> withPart(Document d, const BringInOrder& order) {
    auto file = readPartFile(order.file);
    if (!file) return file.problem();
    if (!order.layer.empty())
        std::erase_if(file.value().outlines, [&](const Strand& s) { return s.layer != order.layer; });
    std::optional<Problem> problem;
    const double factor = factorOf(order, file->millimetresPerUnit, problem);
    if (problem) return *problem;
    auto shape = shapeOf(*file, factor, {}, order.thickness);
    if (!shape) return shape.problem();
    for (const auto& remark : file->remarks) std::fprintf(stderr, "vicinal-cli: %s\n", remark.c_str());
    return with(std::move(d), PartItem{0, std::filesystem::path(order.file).stem().string(), *shape, {}});
}

} // namespace

int bringIn(const BringInOrder& order) {
    Document d;
    std::error_code error;
    auto lock = ChangeLock::of(order.to);
    if (!lock) return fail(lock.problem());
    SaveOptions options;
    if (std::filesystem::exists(order.to, error)) {
        options.known = stampOf(order.to);
        auto before = openDocument(order.to, readBody);
        if (!before) return fail({say::value(order.to) + ": " + Words::whole(before.problem().text), ""});
        d = std::move(before).value();
    }
    if ((order.smooth || order.closed) && !isPointFile(order.file))
        return fail(
            {Words(order.smooth ? "--smooth" : "--closed") + " is for points (.csv .txt); curves come as they are.",
             ""});
    auto next = isPointFile(order.file) ? withPoints(std::move(d), order)
                : order.asPart          ? withPart(std::move(d), order)
                                        : withPaths(std::move(d), order);
    if (!next) return fail(next.problem());
    if (auto wrong = defectOf(*next)) return fail(*wrong);
    return save(*next, order.to, options);
}

} // namespace vicinal::cli
