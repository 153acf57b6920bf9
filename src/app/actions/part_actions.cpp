// What is done with whole items: parts made, brought in, copied, mirrored, replaced; runs made; items deleted.
#include "app/controls/format.h"
#include "app/dialogs/ask.h"
#include "app/dialogs/bring_in_dialog.h"
#include "app/dialogs/dialogs.h"
#include "app/dialogs/part_in_dialog.h"
#include "app/seat/seat_view.h"
#include "app/state/background.h"
#include "app/view/viewport.h"
#include "app/window/main_window.h"
#include "app/yard/yard.h"
#include "layout/spacing/rules.h"
#include "model/document/part_item.h"
#include "model/document/path_item.h"
#include "model/document/run_item.h"
#include "model/edits/run_edits.h"
#include "model/file/document_file.h"
#include <QAction>
#include <QFileInfo>
#include <QMenuBar>

namespace vicinal {

void MainWindow::buildPartMenu() {
    auto* menu = menuBar()->addMenu(tr("P&art"));
    const auto withPart = [this](void (MainWindow::*act)(Id)) {
        return [this, act] {
            if (const auto part = m_store->currentPart()) (this->*act)(part->item->id);
        };
    };
    add(menu, tr("&New part\u2026"), "newPart", QKeySequence("Ctrl+Shift+N"),
        tr("Links, plates, balusters, sleepers, lamps, holes and more, with live dimensions"), [this] { newPart(); });
    add(menu, tr("&Bring in\u2026"), "bringInPart", {}, tr("A part from STEP, OBJ, STL, PLY, glTF, DXF or SVG"),
        [this] { bringIn(); });
    m_needsPath += add(menu, tr("&Raise the path in hand"), "raisePath", {},
                       tr("A part of the closed path in hand, raised; it follows the path"), [this] { raisePath(); });
    menu->addSeparator();
    m_needsPart +=
        add(menu, tr("&Seat it in the view\u2026"), "seatView", QKeySequence("S"),
            tr("Where the part in hand sits on its path, and how it faces"), withPart(&MainWindow::editSeat));
    m_needsPart += add(menu, tr("&Add a piece\u2026"), "addPiece", {},
                       tr("A second piece that moves with the part in hand"), withPart(&MainWindow::addPiece));
    menu->addSeparator();
    m_needsPart += add(menu, tr("Make a &copy"), "copyPart", {}, tr("The part in hand once more, as a part of its own"),
                       withPart(&MainWindow::copyItem));
    m_needsPart += add(menu, tr("Make a &mirrored copy"), "mirrorPart", {},
                       tr("Left and right changed over, as a part of its own; follows the part in hand"),
                       withPart(&MainWindow::mirrorPart));
    m_needsPart += add(menu, tr("Re&place in all runs\u2026"), "replacePart", {},
                       tr("Another part in every run that uses the part in hand"), withPart(&MainWindow::replacePart));
}

void MainWindow::bringIn() {
    const QString path =
        ask::openFile(this, tr("Bring in"),
                      tr("Paths and parts (*.dxf *.svg *.step *.stp *.csv *.txt *.obj *.stl *.ply *.glb *.gltf);;"
                         "Drawings (*.dxf *.svg);;STEP (*.step *.stp);;Points (*.csv *.txt);;Meshes (*.obj *.stl *.ply "
                         "*.glb *.gltf)"));
    if (!path.isEmpty()) bringInFile(path);
}

/// Points and drawings come as paths, solids and meshes as parts; what may be both offers the other.
void MainWindow::bringInFile(const QString& path) {
    const QString suffix = QFileInfo(path).suffix().toLower();
    const bool drawing = suffix == "dxf" || suffix == "svg", step = suffix == "step" || suffix == "stp";
    bool asPaths = drawing || suffix == "csv" || suffix == "txt", both = drawing || step;
    if (suffix == "obj")
        if (const auto text = readFile(path.toStdString())) {
            const bool faces = text->find("\nf ") != std::string::npos || text->starts_with("f ");
            const bool lines = text->find("\nl ") != std::string::npos || text->starts_with("l ");
            asPaths = lines && !faces;
            both = lines && faces;
        }
    for (bool other = true; other; asPaths = !asPaths) {
        other = false;
        if (asPaths) {
            bringInPaths(path, both, &other);
        } else if (bool site = false; auto part = partOf(path, both, &other, &site)) {
            if (site) {
                bringInBodies(std::move(*part), path);
                continue;
            }
            addPart(std::move(*part), tr("Bring in %1").arg(QFileInfo(path).fileName()));
            m_seatView->open(); // how it sits is what goes wrong with parts from elsewhere
        }
    }
}

bool MainWindow::bringInPaths(const QString& path, bool mayBePart, bool* other) {
    auto loaded = BringInDialog::load(path, this);
    if (loaded.cancelled) return false;
    if (!loaded.problem.isEmpty()) {
        showMessage(loaded.problem);
        return false;
    }
    hideMessage();
    BringInDialog dialog(std::move(loaded), m_store->document().unit, mayBePart, this);
    const int result = dialog.exec();
    *other = result == BringInDialog::kAsPart;
    if (result != QDialog::Accepted) return false;
    Document d = m_store->document();
    d = with(std::move(d), dialog.paths());
    const Id id = d.paths.back()->id;
    m_store->edit(d, tr("Bring in %1").arg(QFileInfo(path).fileName()));
    m_store->selectItem(Selection::Kind::Path, id);
    m_view->frameAll();
    return true;
}

std::optional<PartItem> MainWindow::partOf(const QString& path, bool mayBePaths, bool* other, bool* asBody) {
    auto file =
        inBackground<Result<PartFile>>(this, tr("Reading %1\u2026").arg(QFileInfo(path).fileName()), [path](Job& job) {
            return readPartFile(path.toStdString(), &job.stop, &job.progress);
        });
    if (!file) return std::nullopt;
    if (!*file && other && file->problem().field == "body") { // nothing but curves
        *other = true;
        return std::nullopt;
    }
    if (!*file) {
        showMessage(m_store->say(file->problem().text));
        return std::nullopt;
    }
    hideMessage();
    PartInDialog dialog(std::move(*file).value(), path, m_store->document().unit, mayBePaths, this);
    if (asBody) dialog.offerSite(*asBody);
    const int result = dialog.exec();
    if (other) *other = result == PartInDialog::kAsPaths;
    if (asBody) *asBody = dialog.asBody();
    if (asBody && dialog.asBody() && result == QDialog::Accepted)
        m_eachBody = dialog.eachBody(), m_inView = dialog.inView();
    return result == QDialog::Accepted ? dialog.part() : std::nullopt;
}

void MainWindow::addPart(PartItem item, const QString& step) {
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

/// A part chosen with pictures: a new one, one from a file, or (`existing`) one of the document.
std::optional<PartItem> MainWindow::askForPart(const QString& title, const QString& accept,
                                               const std::vector<Id>& offered, Id* existing, bool* keepSeat) {
    PartDialog dialog(*m_store, title, accept, offered, this);
    if (keepSeat) dialog.askSeat();
    if (dialog.exec() != QDialog::Accepted) return std::nullopt;
    if (keepSeat) *keepSeat = dialog.keepSeat();
    return partFrom(dialog.fileWanted(), dialog.choice(), existing);
}

/// What was chosen with pictures: a new part, one from a file, or (`existing`, and an empty item) one of the document.
std::optional<PartItem> MainWindow::partFrom(bool file, const std::optional<PartChoice>& choice, Id* existing) {
    if (file) {
        const QString path = ask::openFile(this, tr("Bring in a part"),
                                           tr("Parts (*.step *.stp *.obj *.stl *.ply *.glb *.gltf *.dxf *.svg)"));
        return path.isEmpty() ? std::nullopt : partOf(path, false, nullptr);
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

void MainWindow::newPart() {
    Id none = 0;
    if (auto item = askForPart(tr("New part"), tr("Make it"), {}, &none)) addPart(std::move(*item), tr("New part"));
}

void MainWindow::newRun() {
    if (m_store->document().paths.empty())
        return showMessage(tr("There is no path yet. Draw one or bring one in, then make a run along it."));
    NewRunDialog dialog(*m_store, this);
    if (dialog.exec() != QDialog::Accepted) return;
    Document d = m_store->document();
    Id part = 0;
    auto fresh = partFrom(dialog.fileWanted(), dialog.part(), &part);
    if (!fresh) return;
    if (!part) {
        d = with(d, std::move(*fresh));
        part = d.parts.back()->id;
    }
    RunItem run;
    run.name = tr("Run").toStdString() + " " + std::to_string(d.runs.size() + 1);
    run.colour = int(d.runs.size());
    run.path = dialog.path();
    run.part = part;
    if (!workedOut()) return;
    const auto worked = evaluate(d, m_store->sharedEvaluation());
    const auto path = worked->paths.at(run.path);
    const auto made = worked->parts.at(part);
    if (made->seated && path->path) run.spacing = firstSpacing(*made, *path->path);
    d = with(d, std::move(run));
    const Id id = d.runs.back()->id;
    m_store->edit(d, tr("New run"));
    m_store->selectItem(Selection::Kind::Run, id);
}

/// A part of one shape becomes a part of two pieces; its seat stays where it is.
void MainWindow::addPiece(Id id) {
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

void MainWindow::mirrorPart(Id id) {
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

void MainWindow::replacePart(Id id) {
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

void MainWindow::raisePath() {
    const auto path = m_store->currentPath();
    if (!path || !path->path) return;
    if (!path->path->closed())
        return showMessage(
            tr("%1 is open. Only a closed path has an inside that can be raised.").arg(path->item->name.c_str()));
    PartItem item;
    item.name = tr("%1, raised").arg(path->item->name.c_str()).toStdString();
    // A height that suits the outline: a tenth of its size, to a round figure.
    const double size = path->path->bounds().diagonal().norm() / 10,
                 power = std::pow(10, std::floor(std::log10(std::max(size, 1e-3))));
    item.shape = ExtrudedPath{path->item->id, std::max(1.0, std::round(size / power)) * power};
    addPart(std::move(item), tr("Raise %1").arg(path->item->name.c_str()));
}

void MainWindow::editSeat(Id id) {
    const auto part = m_store->currentPart();
    if (!part || part->item->id != id) m_store->selectItem(Selection::Kind::Part, id);
    m_seatView->open();
}

void MainWindow::copyItem(Id id) { copyItems({id}); }

} // namespace vicinal
