// Parts: made, copied, mirrored, replaced, put together of pieces.
#include "app/actions/actions.h"
#include "app/controls/format.h"
#include "app/controls/rounding.h"
#include "app/dialogs/ask.h"
#include "app/dialogs/dialogs.h"
#include "app/seat/seat_view.h"
#include "app/view/viewport.h"
#include "app/window/main_window.h"
#include "layout/spacing/rules.h"
#include "model/delivery/formats.h"
#include "model/document/part_item.h"
#include "model/document/path_item.h"
#include "model/document/run_item.h"
#include "model/edits/run_edits.h"
#include <cmath>

namespace vicinal {

Menu PartActions::menu() {
    const auto withPart = [this](void (PartActions::*act)(Id)) {
        return [this, act] {
            if (const auto part = m_store->currentPart()) (this->*act)(part->item->id);
        };
    };
    Command copy{"copyPart", tr("Make a &copy"), tr("The part in hand once more, as a part of its own"), {}, [this] {
                     if (const auto part = m_store->currentPart()) m_window.groups().edits.copyItems({part->item->id});
                 }};
    return {tr("P&art"),
            {Command{"newPart", tr("&New part\u2026"),
                     tr("Links, plates, balusters, sleepers, lamps, holes and more, with live dimensions"),
                     QKeySequence("Ctrl+Shift+N"), [this] { newPart(); }},
             m_window.groups().comings.part(),
             forPath({"raisePath",
                      tr("&Raise the path in hand"),
                      tr("A part of the closed path in hand, raised; it follows the path"),
                      {},
                      [this] { raisePath(); }}),
             MenuLine{},
             forPart({"seatView", tr("&Seat it in the view\u2026"),
                      tr("Where the part in hand sits on its path, and how it faces"), QKeySequence("S"),
                      withPart(&PartActions::editSeat)}),
             forPart({"addPiece",
                      tr("&Add a piece\u2026"),
                      tr("A second piece that moves with the part in hand"),
                      {},
                      withPart(&PartActions::addPiece)}),
             MenuLine{}, forPart(copy),
             forPart({"mirrorPart",
                      tr("Make a &mirrored copy"),
                      tr("Left and right changed over, as a part of its own; follows the part in hand"),
                      {},
                      withPart(&PartActions::mirrorPart)}),
             forPart({"replacePart",
                      tr("Re&place in all runs\u2026"),
                      tr("Another part in every run that uses the part in hand"),
                      {},
                      withPart(&PartActions::replacePart)})}};
}

void PartActions::newPart() {
    Id none = 0;
    if (auto item = askForPart(tr("New part"), tr("Make it"), {}, &none)) addPart(std::move(*item), tr("New part"));
}

/// A part chosen with pictures: a new one, one from a file, or (`existing`) one of the document.
std::optional<PartItem> PartActions::askForPart(const QString& title, const QString& accept,
                                                const std::vector<Id>& offered, Id* existing, bool* keepSeat) {
    PartDialog dialog(*m_store, title, accept, offered, &m_window);
    if (keepSeat) dialog.askSeat();
    if (dialog.exec() != QDialog::Accepted) return std::nullopt;
    if (keepSeat) *keepSeat = dialog.keepSeat();
    return partFrom(dialog.fileWanted(), dialog.choice(), existing);
}

/// What was chosen with pictures: a new part, one from a file, or (`existing`, and an empty item) one of the document.
std::optional<PartItem> PartActions::partFrom(bool file, const std::optional<PartChoice>& choice, Id* existing) {
    if (file) {
        const QString path =
            ask::openFile(&m_window, tr("Bring in a part"),
                          tr("Parts (%1)").arg(QString::fromStdString(patternsFor({FormatUse::ReadPart}))));
        return path.isEmpty() ? std::nullopt : m_window.groups().comings.partOf(path, false, nullptr);
    }
    if (!choice) return std::nullopt;
    PartItem item;
    if (const Id* id = std::get_if<Id>(&*choice)) {
        *existing = *id;
        return item;
    }
    const auto& made = std::get<NewMaker>(*choice);
    item.name = made.name.toStdString();
    item.shape = made.maker;
    item.seat.point = Vec3(0, 0, 0); // where its maker seats it
    return item;
}

void PartActions::addPart(PartItem item, const QString& step) {
    const Document d = with(m_store->document(), std::move(item));
    const Id id = d.parts.back()->id;
    m_store->edit(d, step);
    m_store->selectItem(Selection::Kind::Part, id);
    if (!workedOut()) return;
    const auto part = m_store->currentPart();
    if (!part || !part->mesh || std::holds_alternative<Pieces>(part->item->shape)) return;
    if (farOrigin(part->mesh->box) > 1) // said once: it does no harm
        showMessage(
            tr("The own origin of %1 lies %2 away from it. That is fine: it sits on the path by its seat point.")
                .arg(part->item->name.c_str(), lengthText(part->mesh->box.center().norm(), m_store->document().unit)),
            false);
}

/// A part of one shape becomes a part of two pieces; its seat stays where it is.
void PartActions::addPiece(Id id) {
    const auto part = m_store->document().part(id);
    if (!part) return;
    std::vector<Id> offered;
    for (const auto& p : m_store->document().parts)
        if (!follows(m_store->document(), p->id, id)) offered.push_back(p->id);
    Id existing = 0;
    const auto item = askForPart(tr("A piece for %1").arg(part->name.c_str()), tr("Add it"), offered, &existing);
    if (!item) return;
    const auto other = existing ? m_store->document().part(existing) : nullptr;
    Piece piece;
    piece.name = other ? other->name : item->name;
    piece.shape = other ? PieceShape(PartUse{existing}) : asPiece(item->shape, 0);
    PartItem copy = *part;
    if (!std::holds_alternative<Pieces>(copy.shape)) {
        Pieces pieces;
        pieces.list.push_back({copy.name, asPiece(copy.shape, id)});
        copy.shape = std::move(pieces);
    }
    std::get<Pieces>(copy.shape).list.push_back(std::move(piece));
    m_store->edit(with(m_store->document(), std::move(copy)), tr("Add a piece"));
    m_store->selectItem(Selection::Kind::Part, id);
}

void PartActions::mirrorPart(Id id) {
    const auto part = m_store->document().part(id);
    if (!part) return;
    PartItem copy;
    copy.name = tr("%1, mirrored").arg(part->name.c_str()).toStdString();
    Piece piece{part->name, PartUse{id}};
    piece.mirrored = true;
    copy.shape = Pieces{{piece}};
    copy.density = part->density;
    copy.seat = part->seat; // its mirror image: y changed over
    const auto over = [](const Vec3& v) { return Vec3(v.x(), -v.y(), v.z()); };
    if (auto* at = std::get_if<Vec3>(&copy.seat.point)) *at = over(*at);
    if (auto* at = std::get_if<BoxPoint>(&copy.seat.point)) at->y = -at->y;
    copy.seat.nose = Direction(over(part->seat.nose.v));
    copy.seat.crown = Direction(over(part->seat.crown.v));
    copy.under = part->under;
    for (auto* two : {&copy.seat.pins, &copy.seat.hooks})
        if (*two)
            for (Vec3& p : **two) p = over(p);
    addPart(std::move(copy), tr("Make a mirrored copy"));
}

void PartActions::replacePart(Id id) {
    const auto part = m_store->document().part(id);
    if (!part) return;
    int runs = 0;
    for (const auto& r : m_store->document().runs) runs += r->part == id ? 1 : 0;
    if (runs == 0)
        return showMessage(tr("No run uses %1 yet, so there is nothing to replace.").arg(part->name.c_str()));
    std::vector<Id> offered;
    for (const auto& p : m_store->document().parts)
        if (p->id != id) offered.push_back(p->id);
    Id existing = 0;
    bool keepSeat = false;
    auto item =
        askForPart(tr("Replace %1 in all runs").arg(part->name.c_str()), tr("Replace"), offered, &existing, &keepSeat);
    if (!item) return;
    Document d = m_store->document();
    if (!existing) {
        d = with(d, std::move(*item));
        existing = d.parts.back()->id;
    }
    // A part that others use keeps its seat for them: these runs get a copy of it.
    const bool copied = keepSeat && !(d.part(existing)->seat == part->seat) && !usersOf(d, existing).empty();
    if (copied) {
        PartItem copy = *d.part(existing);
        copy.id = 0;
        d = with(d, std::move(copy));
        existing = lastId(d);
    }
    d = replaced(std::move(d), id, existing, keepSeat);
    const QString name = d.part(existing)->name.c_str();
    m_store->edit(d, tr("Replace %1 by %2").arg(part->name.c_str(), name));
    showMessage(tr("%n run(s) now use %1.", nullptr, runs).arg(name) +
                    (copied ? tr(" It is a copy, since the other one is used with another seat.") : QString()),
                false);
}

void PartActions::raisePath() {
    const auto path = m_store->currentPath();
    if (!path || !path->path) return;
    if (!path->path->closed())
        return showMessage(
            tr("%1 is open. Only a closed path has an inside that can be raised.").arg(path->item->name.c_str()));
    PartItem item;
    item.name = tr("%1, raised").arg(path->item->name.c_str()).toStdString();
    // A height that suits the outline: a tenth of its size, to a round figure.
    item.shape = ExtrudedPath{path->item->id, toOneDigit(path->path->bounds().diagonal().norm() / 10)};
    addPart(std::move(item), tr("Raise %1").arg(path->item->name.c_str()));
}

void PartActions::editSeat(Id id) {
    const auto part = m_store->currentPart();
    if (!part || part->item->id != id) m_store->selectItem(Selection::Kind::Part, id);
    m_seatView->open();
}

} // namespace vicinal
