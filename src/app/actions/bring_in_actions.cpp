// What files hold, brought in as paths, parts, site bodies or ground.
#include "app/actions/actions.h"
#include "app/dialogs/ask.h"
#include "app/dialogs/bring_in_dialog.h"
#include "app/dialogs/ground_in_dialog.h"
#include "app/dialogs/part_in_dialog.h"
#include "app/seat/seat_view.h"
#include "app/state/background.h"
#include "app/view/viewport.h"
#include "app/window/main_window.h"
#include "exchange/in/levels.h"
#include "model/delivery/formats.h"
#include "model/document/body_item.h"
#include "model/document/part_item.h"
#include "model/document/path_item.h"
#include "model/file/files.h"
#include <QFileInfo>

namespace vicinal {

Command BringInActions::paths() {
    return {"bringIn", tr("&Bring in\u2026"),
            tr("Paths from DXF, SVG, STEP, OBJ lines or CSV; a part from STEP, OBJ, STL, PLY, glTF, DXF or SVG"),
            QKeySequence("Ctrl+I"), [this] { bringIn(); }};
}

Command BringInActions::part() {
    return {"bringInPart", tr("&Bring in\u2026"), tr("A part from STEP, OBJ, STL, PLY, glTF, DXF or SVG"), {}, [this] {
                bringIn();
            }};
}

Command BringInActions::body() {
    return {"bringInBody",
            tr("&Bring in a body\u2026"),
            tr("From STEP, OBJ, STL, PLY, glTF, DXF or SVG, at its own place in the file"),
            {},
            [this] { bringInBody(); }};
}

Command BringInActions::ground() {
    return {"bringInGround",
            tr("From &levels\u2026"),
            tr("Points, break lines, faces, a grid or a mesh, joined by triangles"),
            {},
            [this] { bringInGround(); }};
}

static QString patterns(std::initializer_list<FormatUse> uses) { return QString::fromStdString(patternsFor(uses)); }

void BringInActions::bringIn() {
    const QString path = ask::openFile(
        &m_window, tr("Bring in"),
        tr("Paths and parts (%1)").arg(patterns({FormatUse::ReadCurves, FormatUse::ReadPoints, FormatUse::ReadPart})) +
            ";;" + tr("Paths (%1)").arg(patterns({FormatUse::ReadCurves, FormatUse::ReadPoints})) + ";;" +
            tr("Parts (%1)").arg(patterns({FormatUse::ReadPart})));
    if (!path.isEmpty()) bringInFile(path);
}

/// Points and drawings come as paths, solids and meshes as parts; what may be both offers the other.
void BringInActions::bringInFile(const QString& path) {
    const Format* format = formatOfFile(path.toStdString());
    const bool curves = isFor(format, FormatUse::ReadCurves);
    bool asPaths = isFor(format, FormatUse::ReadPoints) || (curves && isFor(format, FormatUse::Paper)),
         both = curves && isFor(format, FormatUse::ReadPart);
    if (format && format->endings[0] == std::string("obj")) // by what is in it
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
            m_window.groups().parts.addPart(std::move(*part), tr("Bring in %1").arg(QFileInfo(path).fileName()));
            m_seatView->open(); // how it sits is what goes wrong with parts from elsewhere
        }
    }
}

bool BringInActions::bringInPaths(const QString& path, bool mayBePart, bool* other) {
    auto loaded = BringInDialog::load(path, &m_window);
    if (loaded.cancelled) return false;
    if (!loaded.problem.isEmpty()) {
        showMessage(loaded.problem);
        return false;
    }
    hideMessage();
    BringInDialog dialog(std::move(loaded), m_store->document().unit, mayBePart, &m_window);
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

std::optional<PartItem> BringInActions::partOf(const QString& path, bool mayBePaths, bool* other, bool* asBody) {
    auto file = inBackground<Result<PartFile>>(
        &m_window, tr("Reading %1\u2026").arg(QFileInfo(path).fileName()),
        [path](Job& job) { return readPartFile(path.toStdString(), &job.stop, &job.progress); });
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
    PartInDialog dialog(std::move(*file).value(), path, m_store->document().unit, mayBePaths, &m_window);
    if (asBody) dialog.offerSite(*asBody);
    const int result = dialog.exec();
    if (other) *other = result == PartInDialog::kAsPaths;
    if (asBody) *asBody = dialog.asBody();
    if (asBody && dialog.asBody() && result == QDialog::Accepted)
        m_eachBody = dialog.eachBody(), m_inView = dialog.inView();
    return result == QDialog::Accepted ? dialog.part() : std::nullopt;
}

void BringInActions::bringInBody() {
    const QString path =
        ask::openFile(&m_window, tr("Bring in a body"), tr("Bodies (%1)").arg(patterns({FormatUse::ReadPart})));
    if (!path.isEmpty()) bringInBodyFile(path);
}

void BringInActions::bringInBodyFile(const QString& path) {
    bool site = true;
    auto part = partOf(path, false, nullptr, &site);
    if (!part) return;
    if (site) return bringInBodies(std::move(*part), path);
    m_window.groups().parts.addPart(std::move(*part), tr("Bring in %1").arg(QFileInfo(path).fileName()));
}

/// At their own place in the file.
void BringInActions::bringInBodies(PartItem part, const QString& path) {
    std::vector<PartItem> all = std::move(m_eachBody);
    m_eachBody.clear();
    if (all.empty()) all.push_back(std::move(part));
    Document d = m_store->document();
    Vec3 by = Vec3::Zero();
    if (std::exchange(m_inView, false)) { // the foot of all of them, where one looks
        Box3 box;
        for (const PartItem& one : all)
            if (const auto body = build(one.shape)) box.extend((*body)->mesh->box);
        const double step = roundSize() / 10;
        if (!box.isEmpty())
            by = Vec3((m_view->camera().target / step).array().round() * step) -
                 Vec3(box.center().x(), box.center().y(), box.min().z());
        by.z() = box.isEmpty() ? 0 : -box.min().z();
    }
    for (PartItem& one : all) {
        BodyItem item;
        item.name = one.name;
        item.colour = int(d.bodies.size()) % 8;
        item.at = by;
        std::visit(
            [&](auto& s) {
                if constexpr (std::is_constructible_v<BodyShape, std::decay_t<decltype(s)>>) item.shape = std::move(s);
            },
            one.shape);
        d = with(std::move(d), std::move(item));
    }
    const Id last = lastId(d);
    m_store->edit(std::move(d), tr("Bring in %1").arg(QFileInfo(path).fileName()));
    m_store->selectItem(Selection::Kind::Body, last);
    if (workedOut()) m_view->frameAll();
}

void BringInActions::bringInGround() {
    const QString path =
        ask::openFile(&m_window, tr("Ground from levels"), tr("Levels (%1)").arg(patterns({FormatUse::ReadLevels})));
    if (!path.isEmpty()) bringInGroundFile(path);
}

void BringInActions::bringInGroundFile(const QString& path) {
    auto file = inBackground<Result<LevelFile>>(
        &m_window, tr("Reading %1\u2026").arg(QFileInfo(path).fileName()),
        [path](Job& job) { return readLevels(path.toStdString(), &job.stop, &job.progress); });
    if (!file) return;
    if (!*file) return showMessage(m_store->say(file->problem().text));
    hideMessage();
    GroundInDialog dialog(std::move(*file).value(), path, m_store->document().unit, &m_window);
    if (dialog.exec() != QDialog::Accepted) return;
    BodyItem item;
    item.name = QFileInfo(path).completeBaseName().toStdString();
    item.shape = dialog.levels();
    m_window.groups().site.addBody(std::move(item), tr("Bring in %1").arg(QFileInfo(path).fileName()));
    if (workedOut()) m_view->frameAll();
}

} // namespace vicinal
