#pragma once
// What moves in the benchmarks.
#include "layout/spacing/rules.h"
#include "model/document/document.h"
#include "model/document/part_item.h"
#include "model/document/path_item.h"
#include "model/document/run_item.h"

namespace vicinal {

/// 500 links round twelve wheels, one of which gives way; `teeth`: all wheels are sprockets with bodies.
inline Document drive(bool teeth) {
    WheelShape loop;
    loop.wheels.clear();
    for (int i = 0; i < 12; ++i) {
        const double a = 2 * kPi * i / 12;
        Wheel w;
        w.centre = 1900 * Vec2(std::cos(a), std::sin(a));
        w.radius = 100;
        w.teeth = teeth ? 19 : 0;
        if (teeth) w.body = WheelBody::Sprocket;
        loop.wheels.push_back(w);
    }
    PathItem path;
    path.recipe = ShapeRecipe{loop};
    Document d = with(Document(), path);
    d = with(d, PartItem{0, "Link", Maker(RollerLink{}), {}});
    RunItem run;
    run.path = 1;
    run.part = 2;
    run.spacing->rule = PinToPin{};
    run.facing.crown = Outward{};
    run.gives.what = Gives::Wheel;
    run.gives.wheel = 3;
    run.motion.moves = true;
    return with(d, run);
}

/// The same (ids 1 to 3) with a train of vehicles on bogies on an S-bend (ids 4 to 7).
inline Document withTrain(Document d, long vehicles) {
    PathItem path;
    PointsRecipe points;
    for (int i = 0; i < 24; ++i) points.points.push_back({Vec3(i * 9000.0, 3500.0 * (i % 3), 40.0 * (i % 5))});
    path.recipe = points;
    d = with(d, path);
    PartItem bogie, wagon;
    bogie.shape = Maker(PlainBox{1500, 1400, 500});
    bogie.seat.point = Vec3(0, 0, 0);
    bogie.seat.pins = Pins{Vec3(-500, 0, 0), Vec3(500, 0, 0)};
    d = with(d, bogie);
    wagon.shape = Maker(PlainBox{7000, 1600, 1800});
    wagon.seat.point = Vec3(0, 0, 0);
    wagon.seat.pins = Pins{Vec3(-2400, 0, 0), Vec3(2400, 0, 0)};
    wagon.under = {5, 5};
    d = with(d, wagon);
    RunItem run;
    run.path = 4;
    run.part = 6;
    run.spacing->rule = Coupled{vehicles, 700};
    run.facing.crown = Upright{};
    run.motion.moves = true;
    run.motion.speed = 2000;
    return with(d, run);
}

} // namespace vicinal
