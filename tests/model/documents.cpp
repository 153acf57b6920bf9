#include "model/documents.h"
#include "layout/spacing/rules.h"
#include "model/document/body_item.h"
#include "model/document/part_item.h"
#include "model/document/path_item.h"
#include "model/document/run_item.h"
#include "parts/makers/maker.h"
#include <fstream>

namespace vicinal::test {

std::string wedgeObj(double x) {
    std::string s;
    const double v[8][3] = {{0, -20, 0},  {60, -5, 0},  {60, 5, 0},  {0, 20, 0},
                            {0, -20, 30}, {60, -5, 10}, {60, 5, 10}, {0, 20, 30}};
    for (const auto& p : v)
        s += "v " + std::to_string(p[0] + x) + " " + std::to_string(p[1]) + " " + std::to_string(p[2]) + "\n";
    return s + "f 4 3 2 1\nf 5 6 7 8\nf 1 2 6 5\nf 2 3 7 6\nf 3 4 8 7\nf 4 1 5 8\n";
}

std::string writeText(const QTemporaryDir& dir, const char* name, const std::string& text) {
    const std::string path = dir.filePath(name).toStdString();
    std::ofstream(path, std::ios::binary) << text;
    return path;
}

Document fullDocument() {
    Document d;
    d.unit = Unit::Inch;
    PathItem points;
    points.name = "Slipway \"east\"";
    for (const Vec3& p : {Vec3(0, 0, 0), Vec3(900.125, 1.0 / 3, 40), Vec3(1800, 500, 120), Vec3(2500, 900, 100)})
        std::get<PointsRecipe>(points.recipe).points.push_back({p, p.x() != 1800});
    d = with(d, points);
    PathItem curve;
    curve.name = "Quay edge";
    const auto arc = std::get<Arc>(arcThrough({300, 0, 0}, {400, 50, 0}, {450, 200, 0}));
    const Vec3 end = endOf(Segment(arc));
    curve.recipe = BroughtCurve{{Line{{0, 0, 0}, startOf(Segment(arc))}, arc,
                                 Bezier{{end, end + Vec3(0, 90, 9), end + Vec3(90, 200, 0), end + Vec3(300, 300, 0)}},
                                 ellipseArc(end + Vec3(0, 300, 0), Vec3(300, 0, 0), Vec3(0, 100, 0), 0, 1.2)},
                                false,
                                "quay.dxf"};
    d = with(d, curve);
    d = with(d, PartItem{0, "Baluster", Baluster{21, 22, 950}, {BoxPoint{0, -1, 1}, Axis::PlusX, Axis::PlusZ}});
    d = with(d, PartItem{0, "Plank", Plank{1400, 140, 30}, {Vec3(1, 2, 3.5), Axis::MinusY, Axis::PlusZ}});
    PartItem mesh{0,
                  "Wedge",
                  Brought{bodyOf(*readMesh(wedgeObj(), "obj", 2)),
                          "wedge.obj",
                          std::make_shared<const std::string>(wedgeObj()),
                          "obj",
                          2,
                          {}},
                  {}};
    d = with(d, mesh);
    for (int i = 0; i < 3; ++i) {
        RunItem r;
        r.path = 1;
        r.part = 3 + i;
        r.colour = i;
        r.spacing->kept = {StepOff{100.0 / 3, LeftOver(i)}, ShareOut{7 + i, ShareEnds(i)}, EvenOut{123.456}};
        r.spacing->rule = r.spacing->kept[size_t(i)];
        r.spacing->kept.erase(r.spacing->kept.begin() + i);
        r.spacing->measure = Measure(i % 2);
        if (i == 1) r.spacing->gapAtLeast = 1.5;
        if (i == 2) r.spacing->gapAtMost = 1e4;
        r.spacing->insetStart = i * 10;
        r.facing = {i == 2 ? NoseRule(AsDrawn{}) : NoseRule(AlongPath{}), alternative<CrownRule>(size_t(i)),
                    CornerRule(i), Vec3(0.1 * i, 0.2, 0.3)};
        r.leftOut = {2, 5};
        d = with(d, r);
    }
    // Every recipe, and points of every kind.
    PathItem mixed;
    mixed.name = "Mixed";
    mixed.recipe = PointsRecipe{{{{0, 0, 0}, false},
                                 {{500, 0, 0}, false, 40.5},
                                 {{500, 400, 0}, false, 0, {}, {}, Vec3(600, 500, 10)},
                                 {{800, 400, 0}, true, 0, {}, Vec3(100, 0, 1.0 / 3)},
                                 {{1200, 500, 0}, true, 0, Vec3(-50, 20, 0)}},
                                false,
                                Knotting::ChordLength};
    d = with(d, mixed);
    for (const char* kind :
         {"circle", "ellipse", "rectangle", "slot", "polygon", "helix", "arc", "straight", "swag", "wheels"}) {
        PathItem p{0, std::string("A ") + kind, *recipeOf(kind)};
        std::get<ShapeRecipe>(p.recipe).at = {0.1, 2, 3};
        std::get<ShapeRecipe>(p.recipe).plane = Plane::Side;
        d = with(d, p);
    }
    Id loop = 0;
    for (const auto& p : d.paths)
        if (p->name == "A rectangle") loop = p->id;
    for (const char* kind :
         {"offset", "stretch", "backwards", "start moved", "mirrored", "projected", "resampled", "smoothed"}) {
        PathItem p{0, std::string("Then ") + kind, *recipeOf(kind)};
        std::get<DerivedRecipe>(p.recipe).source = loop;
        if (std::string(kind) == "projected")
            std::get<ProjectedTo>(std::get<DerivedRecipe>(p.recipe).change).plane = Plane::Side;
        d = with(d, p);
    }
    d = with(d,
             PathItem{0, "An edge", EdgesRecipe{d.parts[1]->id, Vec3(0.5, 0.1, 1), true, false, Vec3(1, 2, 3), 0.4}});
    // Every maker, and every other way to a part.
    for (const auto& entry : makerEntries()) d = with(d, PartItem{0, entry.name, entry.maker, {Vec3(0, 0, 0)}});
    const Ring disc{Arc{Vec3(1.0 / 3, 2, 0), Vec3::UnitX(), Vec3::UnitY(), 50, 2 * kPi}},
        hole{Arc{Vec3(1.0 / 3, 2, 0), Vec3::UnitX(), -Vec3::UnitY(), 20, 2 * kPi}};
    d = with(d, PartItem{0,
                         "Washer",
                         FlatOutline{std::make_shared<const std::vector<Ring>>(std::vector<Ring>{disc, hole}), 2.5,
                                     "washer.dxf"},
                         {Vec3(1, 2, 3), Vec3(Vec3(1, 2, 2) / 3), Axis::PlusZ,
                          Pins{Vec3(-1, 0, 1.0 / 3), Vec3(1, 0, 0)}, Pins{Vec3(-2, 0, 0), Vec3(2, 0, 1.0 / 7)}},
                         {d.parts[0]->id, 0},
                         1.25,
                         7850});
    d = with(d, PartItem{0, "Raised", ExtrudedPath{loop, 60}, {}});
    Pieces pieces;
    pieces.list.push_back({"Rail", PartUse{d.parts[0]->id}, {0.1, 0.2, 0.3}, {0.4, 0.5, 0.6}, 1.5, true});
    pieces.list.push_back({"Cap", PlainBox{30, 30, 5}, {0, 0, 950}, {0, 0, 0}, 1, false});
    pieces.list.push_back({"Plate", ExtrudedPath{loop, 10}, {0, 0, 0}, {kPi / 2, 0, 0}, 1, false});
    d = with(d, PartItem{0, "Put together", pieces, {BoxPoint{0, 0, -1}}});
    return with(d, PathItem{0, "Both", JoinedRecipe{{1, 2}, 1e5}});
}

Document richDocument() {
    Document d = fullDocument();
    RunItem rich = *d.runs[0];
    rich.id = 0;
    rich.name = "Rich";
    rich.motion.pace = Profile{{{0, 1.0 / 3}, {1, 2}}, true, true};
    rich.motion.stops = {100.0 / 3, 900};
    rich.spacing->kept = {PinToPin{12, LeftOver::Both}, Coupled{3, 100.0 / 3, 0.25},
                          Graded{{{{0, 100.0 / 3}, {1, 70}}, true, true}, 9, LeftOver::AtStart},
                          Listed{{1.0 / 3, 20, 300}, true}};
    rich.spacing->rule = EvenOut{120, ShareEnds::PitchIn};
    rich.spacing->measure = Measure::OfLength;
    rich.spacing->ofLength = 6.5;
    rich.spacing->along = Along::Straight;
    rich.spacing->pitchAtLeast = 10;
    rich.spacing->pitchAtMost = 1e4;
    rich.spacing->multiple = 2;
    rich.spacing->from = 20.5;
    rich.spacing->to = 3000;
    rich.spacing->bays = BayEdges::Stations;
    rich.spacing->bayStations = {700, 1000.0 / 3 + 1000};
    rich.spacing->bayRun = d.runs[1]->id;
    rich.spacing->bayRules = {{2, StepOff{100.0 / 3, LeftOver::Both}}, {7, Graded{{{{0, 10}, {1, 20}}, true, true}}}};
    rich.facing.turnStep = Vec3(kPi / 2, 0, 0.1);
    rich.facing.turnEvery = 4;
    rich.facing.backwards = true;
    rich.facing.crown = Given{};
    rich.facing.direction = Vec3(0.1, -2, 1.0 / 3);
    rich.facing.target = Vec3(1, 2, 3);
    rich.facing.targetPath = 2;
    rich.sequence = {{{3, 2, 1}, {4, 1, 2.5}}, false, 17, 3, 4, 0, 5, 7};
    rich.changes.roll = {{{0, 0.1}, {900, 1.0 / 3}}, true};
    rich.changes.size = {{{0.25, 1}, {0.75, 1.25}}, false, true};
    rich.changes.across = {{{0, -12}}};
    rich.changes.up = {{{10, 1}, {20, 2}, {30, 3}}};
    rich.uneven = {0.1, 0.2, 0.3, 0.04, 0.05, 99};
    rich.exceptions = {{2, {}, false, 4, Vec3(1, 2, 3), Vec3(0.1, 0.2, 0.3), 1.5}, {0, 250.25, true}, {900, {}, true}};
    rich.rows = {2, 3, -40, 55.5, true, RowsKeep::Pitch};
    rich.echoes.one = {EchoKind::Mirrored, Vec3(1, 2, 3), Vec3(0, 1, 1), 2, 10, 0.5};
    rich.echoes.two = {EchoKind::Round, Vec3(4, 5, 6), Vec3(0, 0, 1), 3, 20, 1.5};
    // Site bodies of every kind, folders, locks.
    d = with(d, FolderItem{0, "The site \"here\""});
    const Id folder = lastId(d);
    const Id loop = d.paths[2]->id, part = d.parts[0]->id;
    const auto* washer = [&] {
        for (const auto& p : d.parts)
            if (const auto* f = std::get_if<FlatOutline>(&p->shape)) return f;
        return static_cast<const FlatOutline*>(nullptr);
    }();
    LevelData levels;
    levels.points = {{0, 0, 1.0 / 3}, {1000, 0, 10}, {0, 1000, 20}, {700, 600.1, 1e-7}};
    levels.breaks = {{{100, 100, 5}, {300, 200, 1.0 / 7}, {400, 900, 3}}};
    LevelData faces = levels;
    faces.breaks.clear();
    faces.faces = {{0, 1, 3}, {0, 3, 2}};
    int n = 0;
    for (const BodyShape& shape : std::initializer_list<BodyShape>{
             Maker(Ramp{2000, 900, 250, 15, 300}), std::get<Brought>(d.parts[2]->shape), *washer,
             PlateOf{loop, 12.5, false}, WallAlong{1, 1200.5, 300, 215, WallSide::Left}, levelsOf(levels, "levels.csv"),
             levelsOf(faces, "levels.asc"), MadeGround{GroundForm::Terraces, 9000, 4000.5, 700, 4, 120, 900},
             PartUse{part}}) {
        BodyItem b;
        b.name = "Body \"" + std::to_string(++n) + "\"";
        b.colour = n;
        b.hidden = n == 2;
        b.seeThrough = n == 3;
        b.locked = n == 4;
        b.folder = n < 4 ? folder : 0;
        b.at = Vec3(n, 1.0 / 3, -2);
        b.turn = Vec3(0.1, 0.2 * n, 1.0 / 7);
        b.size = 1 + n / 8.0;
        b.density = 1000.0 / n;
        b.shape = shape;
        d = with(d, b);
    }
    LaidOn laid;
    laid.body = lastId(d);
    laid.as = LaidAs::Points;
    laid.along = Vec3(0.1, 0, -1);
    laid.smooth = 2.5;
    laid.above = 1.0 / 3;
    PathItem on{0, "Laid", DerivedRecipe{1, laid}};
    on.locked = true;
    on.folder = folder;
    d = with(d, on);
    rich.facing.targetBody = lastId(d) - 1;
    rich.facing.surface = lastId(d) - 2;
    rich.feet = {lastId(d) - 3, FeetBy::Level, BayLevel::Lowest, 12.5};
    rich.checks = {{CheckKind::Opening, true, {}, 99.5, 1.0 / 3, 0, 100, 900.25},
                   {CheckKind::SiteBody, false, 400, {}, 20, lastId(d) - 1},
                   {CheckKind::NoseSlope, true, -0.1, 1.0 / 7},
                   {CheckKind::Itself,
                    true,
                    2,
                    {},
                    0,
                    0,
                    0,
                    0,
                    {{3, 9, 0, 0, "welded \"here\"", "M. Tollan", "2026-11-27"}, {0, 0, 3, 4, "", "", ""}}}};
    rich.locked = true;
    rich.folder = folder;
    d = with(d, rich);
    return d;
}

} // namespace vicinal::test
