#include "model/evaluate/weights.h"
#include "base/say.h"
#include "base/text.h"
#include "model/document/body_item.h"
#include "model/document/part_item.h"
#include <cmath>

namespace vicinal {
namespace {

Result<double> massAt(const std::string& name, const Body* body, double density) {
    const std::string quoted = "\"" + text::quoted(name) + "\"";
    if (!(density > 0)) return Problem{say::value(quoted) + " has no density. Type it in its sheet.", "density"};
    const auto volume = body ? enclosedVolume(*body) : std::nullopt;
    if (!volume) return Problem{say::value(quoted) + " is open and has no volume.", "density"};
    return mass(*volume, density);
}

} // namespace

Result<double> massOf(const PartResult& part) {
    const PartItem& item = *part.item;
    const auto* pieces = std::get_if<Pieces>(&item.shape);
    if (item.density > 0 || !pieces || pieces->list.empty()) return massAt(item.name, part.body.get(), item.density);
    double sum = 0;
    size_t used = 0; // as PartResult::parts: a piece each that is a part of the document
    for (const Piece& piece : pieces->list) {
        if (!std::holds_alternative<PartUse>(piece.shape)) return massAt(item.name, nullptr, 0);
        const auto other = used < part.parts.size() ? part.parts[used] : nullptr;
        ++used;
        const auto one = other ? massOf(*other) : massAt(item.name, nullptr, 0);
        if (!one) return one.problem();
        sum += *one * std::pow(std::abs(piece.size), 3);
    }
    return sum * std::pow(item.size, 3);
}

Result<double> massEach(const Standing& of, const PlacedPart& part) {
    if (const auto* site = of.asBody()) return massAt(site->name, part.body.get(), site->item->density);
    if (const auto* parts = partResultsOf(of))
        for (const auto& p : *parts)
            if (p && p->item->id == part.id) return massOf(*p);
    return massAt(part.name, part.body.get(), 0);
}

} // namespace vicinal
