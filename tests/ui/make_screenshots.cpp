// Drives the window through the states the README shows and writes docs/screenshots. Run by scripts/screenshots.sh.
#include "app/controls/controls.h"
#include "app/seat/seat_view.h"
#include "app/send/previews.h"
#include "app/state/checks.h"
#include "app/view/toolbox.h"
#include "layout/spacing/rules.h"
#include "model/document/run_item.h"
#include "ui/window_fixture.h"
#include <QAction>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QPushButton>
#include <QScrollBar>

using namespace vicinal;
using namespace vicinal::test;

namespace {

QString folder;

void shoot(QWidget* w, const char* name) {
    auto* view = w->findChild<Viewport*>();
    idle();
    if (auto* window = qobject_cast<MainWindow*>(w))
        if (!QTest::qWaitFor([&] { return !window->store().evaluating() && !window->store().checks().running(); },
                             60'000))
            qFatal("the checks did not end");
    if (view && view->isVisible() && !QTest::qWaitFor([&] { return view->settled(); }, 10'000))
        qFatal("the view did not settle"); // into its full picture
    idle();
    w->grab().save(folder + "/" + name);
}

/// What goes in the window that sends out.
void tickOnly(QDialog* dialog, const QString& name) {
    auto* list = dialog->findChild<QListWidget*>("send.what");
    for (int i = 0; i < list->count(); ++i)
        list->item(i)->setCheckState(list->item(i)->text().section("   ", 0, 0) == name ? Qt::Checked : Qt::Unchecked);
}

} // namespace

int main(int argc, char** argv) {
    QApplication app(argc, argv);
    QCoreApplication::setOrganizationName("VicinalTest");
    theme::apply(app);
    folder = argc > 1 ? argv[1] : "docs/screenshots";
    if (argc > 2) { // one state, for looking at it: FILE RUN SECTIONS
        Driver one({1280, 800});
        one.window->openDemo(argv[2], "Saltmarrow Quay");
        if (argc > 3) one.store().selectItem(Selection::Kind::Run, QString(argv[3]).toInt());
        if (argc > 4)
            for (auto* section : one.window->findChildren<Section*>())
                section->setOpen(QString(argv[4]).split(',').contains(section->objectName().section('.', 1)));
        one.view().frameSelection();
        one.settle();
        if (!QTest::qWaitFor([&] { return !one.store().evaluating() && !one.store().checks().running(); }, 60'000))
            qFatal("the checks did not end");
        one.settle();
        if (argc > 6)
            for (const QString& action : QString(argv[6]).split(',')) {
                // "#name" is a button; a dialog that comes up is the picture, after clicks in it behind colons ("=name"
                // leaves only that ticked).
                static bool dialog = false;
                QTimer::singleShot(600, &app, [clicks = action.split(':').mid(1)] {
                    auto* modal = qobject_cast<QDialog*>(QApplication::activeModalWidget());
                    for (const QString& c : clicks)
                        if (modal && c.startsWith('='))
                            tickOnly(modal, c.mid(1));
                        else if (modal)
                            Driver::clickIn(modal, c);
                });
                QTimer::singleShot(2500, &app, [] {
                    if (QWidget* modal = QApplication::activeModalWidget()) {
                        modal->grab().save(folder + "/look.png");
                        dialog = true;
                        modal->close();
                    }
                });
                if (action.startsWith('#'))
                    one.find<QAbstractButton>(action.mid(1))->click();
                else
                    one.find<QAction>("action." + action.section(':', 0, 0))->trigger();
                one.settle();
                if (dialog) return 0;
            }
        if (argc > 5 && *argv[5])
            if (auto* w = one.window->findChild<QWidget*>(argv[5])) one.window->sheet().ensureWidgetVisible(w, 0, 300);
        shoot(one.window.get(), "look.png");
        return 0;
    }
    const QString quay = VICINAL_SOURCE "/examples/saltmarrow-quay.json";
    Driver d({1280, 800});

    d.window->openDemo(quay, "Saltmarrow Quay");
    d.view().frameSelection();
    d.store().select({Selection::Kind::Run, 5, {24, 25}, -1, {}});
    shoot(d.window.get(), "main-3d.png");

    // A template, seen before it is written.
    d.store().selectItem(Selection::Kind::Run, 17);
    const auto ready = [](QDialog* dialog) {
        idle();
        if (!QTest::qWaitFor([&] { return dialog->findChild<QPushButton*>("send.write")->isEnabled(); }, 10'000))
            qFatal("nothing to send out");
        const auto drawn = [&] {
            return dialog->findChild<TemplatePreview*>()->drawn() && dialog->findChild<SheetPreview*>()->drawn();
        };
        if (!QTest::qWaitFor(drawn, 10'000)) qFatal("no preview");
    };
    d.whenDialog("sendOut", [&](QDialog* dialog) {
        tickOnly(dialog, "Drain cover holes");
        auto* what = dialog->findChild<QListWidget*>("send.what");
        for (auto* path : what->findItems("Drain outline", Qt::MatchStartsWith)) path->setCheckState(Qt::Checked);
        for (auto* path : what->findItems("Drain spiral", Qt::MatchStartsWith)) path->setCheckState(Qt::Checked);
        ready(dialog);
        shoot(dialog, "template.png");
        dialog->reject();
    });
    d.find<QAction>("action.template")->trigger();
    d.store().selectItem(Selection::Kind::Run, 5);
    d.whenDialog("sendOut", [&](QDialog* dialog) {
        auto* kept = dialog->findChild<QListWidget*>("send.deliveries");
        kept->setCurrentRow(2); // the ramp's drawing
        ready(dialog);
        shoot(dialog, "send-out.png");
        dialog->reject();
    });
    d.click("tool.sendOut");

    d.store().select({Selection::Kind::Path, 1, {}, 3, {}});
    d.view().setLook(Viewport::Look::Free);
    d.view().frameSelection();
    shoot(d.window.get(), "path.png");

    // Parts: the seat of a solid that was drawn far off and y-up, the chooser.
    d.view().setLook(Viewport::Look::Free);
    d.store().selectItem(Selection::Kind::Part, 19);
    d.window->findChild<QAction*>("action.seatView")->trigger();
    if (!QTest::qWaitFor([&] { return d.window->seatView().ready(); }, 5000)) return 1;
    shoot(d.window.get(), "seat.png");
    d.window->seatView().leave();
    d.store().selectItem(Selection::Kind::Run, 5);
    d.whenDialog("newRun", [&](QDialog* dialog) {
        shoot(dialog, "part-chooser.png");
        dialog->reject();
    });
    d.click("tool.newRun");

    d.store().selectItem(Selection::Kind::Run, 5);
    d.click("run.rule.0");
    d.type("pitch", "9 m");
    shoot(d.window.get(), "bad-input.png");
    d.store().undo();
    d.store().undo();

    // Drawing: straight, an arc that goes on, then square onto the quay's edge.
    d.store().selectItem(Selection::Kind::Path, 7);
    d.view().setLook(Viewport::Look::Plan);
    d.view().frameSelection();
    d.click("tool.drawPath");
    d.click("draw.mode.1");
    for (const auto& [x, y] : {std::pair{-3600, -4700}, {-1800, -4700}}) d.clickAt(&d.view(), d.ground(x, y));
    d.click("draw.mode.2");
    d.clickAt(&d.view(), d.ground(-900, -5400));
    d.click("draw.mode.1");
    QTest::mouseMove(&d.view(), d.ground(-800, -6000).toPoint());
    QTest::mouseMove(&d.view(), d.ground(-890, -6480).toPoint());
    shoot(d.window.get(), "drawing.png");
    d.view().tools().draw().cancel();

    // The rules, in the second document: bays, lanes, the schedule, a sequence.
    const auto only = [&](const QString& open) {
        for (auto* section : d.window->findChildren<Section*>())
            section->setOpen(open.split(',').contains(section->objectName().section('.', 1)));
        d.settle();
    };
    if (!d.store().saved()) ask::answerUnsaved(ask::Unsaved::Discard);
    d.window->openDemo(VICINAL_SOURCE "/examples/saltmarrow-rules.json", "Saltmarrow Quay, the rules");
    d.view().setLook(Viewport::Look::Free);
    d.view().frameAll();
    d.store().selectItem(Selection::Kind::Run, 41);
    d.view().frameSelection();
    only("bays");
    d.window->sheet().ensureWidgetVisible(d.find<QWidget>("run.bayList"), 0, 20);
    shoot(d.window.get(), "bays.png");
    d.store().selectItem(Selection::Kind::Run, 44);
    only("spacing");
    shoot(d.window.get(), "lanes.png");
    d.store().select({Selection::Kind::Run, 42, {30}, -1, {}});
    d.view().frameSelection();
    d.find<QAction>("action.showSchedule")->trigger();
    only("places");
    auto* here = d.find<QWidget>("place.part");
    d.window->sheet().ensureWidgetVisible(here, 0, 200);
    shoot(d.window.get(), "schedule.png");
    d.find<QAction>("action.showSchedule")->trigger();
    // Drives: what gives way, teeth that meet.
    ask::answerUnsaved(ask::Unsaved::Discard);
    d.window->openDemo(VICINAL_SOURCE "/examples/saltmarrow-drives.json", "Saltmarrow Quay, the drives");
    d.store().selectItem(Selection::Kind::Run, 20);
    d.view().setLook(Viewport::Look::Front);
    d.view().frameSelection();
    only("gives,spacing");
    d.window->sheet().ensureWidgetVisible(d.find<QWidget>("run.gave"), 0, 60);
    shoot(d.window.get(), "drive.png");
    // Vehicles: the band they sweep, and how far their bogies turn on the way.
    d.store().selectItem(Selection::Kind::Run, 24);
    d.view().setLook(Viewport::Look::Free);
    d.view().frameSelection();
    only("motion");
    d.find<QAbstractButton>("motion.sweepPath")->click();
    d.settle();
    d.window->sheet().ensureWidgetVisible(d.find<QWidget>("motion.worst"), 0, 40);
    shoot(d.window.get(), "train.png");

    // The site: feet on the ground, a chain over itself, a body in hand.
    if (!d.store().saved()) ask::answerUnsaved(ask::Unsaved::Discard);
    d.window->openDemo(VICINAL_SOURCE "/examples/saltmarrow-site.json", "Saltmarrow Quay, the site");
    d.view().setLook(Viewport::Look::Free);
    d.view().frameAll();
    d.store().selectItem(Selection::Kind::Run, 22);
    only("ground");
    d.view().frameSelection();
    shoot(d.window.get(), "ground.png");
    d.store().selectItem(Selection::Kind::Run, 25);
    d.view().frameSelection();
    only("path");
    d.window->sheet().ensureWidgetVisible(d.find<QWidget>("sheet.path.recipe.crossings"), 0, 20);
    shoot(d.window.get(), "crossings.png");
    // Rails with their cut list, and a plate that is cut with its webs.
    d.store().selectItem(Selection::Kind::Body, 83);
    only("body");
    d.view().frameSelection();
    d.window->sheet().ensureWidgetVisible(d.find<QWidget>("body.list"), 0, 60);
    shoot(d.window.get(), "rails.png");
    d.store().selectItem(Selection::Kind::Body, 86);
    only("body");
    d.view().frameSelection();
    d.window->sheet().ensureWidgetVisible(d.find<QWidget>("body.list"), 0, 60);
    shoot(d.window.get(), "cut.png");
    // Checks: the worst place from its best side, the ball of the widest opening, and the sheet against a kept state.
    if (!d.store().saved()) ask::answerUnsaved(ask::Unsaved::Discard);
    d.window->openDemo(VICINAL_SOURCE "/examples/saltmarrow-checks.json", "Saltmarrow Quay, the checks");
    d.view().setLook(Viewport::Look::Free);
    d.view().frameAll();
    const auto measured = [&] {
        if (!QTest::qWaitFor([&] { return !d.store().evaluating() && !d.store().checks().running(); }, 60'000))
            qFatal("the checks did not end");
        d.settle();
    };
    measured();
    d.store().selectItem(Selection::Kind::Run, 42);
    only("checks");
    d.find<QAction>("action.checkGo")->trigger();
    d.settle();
    d.window->sheet().ensureWidgetVisible(d.find<QWidget>("check.body.52"), 0, 60);
    shoot(d.window.get(), "checks.png");
    d.store().checks().keep();
    d.store().change<RunItem>(41, "Wider", {}, [](RunItem& r) {
        r.spacing->gapAtMost.reset();
        std::get<EvenOut>(r.spacing->rule).about = 96;
    });
    measured();
    for (const CheckResult& r : d.store().checks().of(41)->list)
        if (r.check.of == CheckKind::Opening) d.store().checks().go(41, r.check);
    d.find<QAction>("action.showStrip")->trigger();
    d.find<QAction>("action.showChecks")->trigger();
    d.settle();
    const auto drawn = [&] { // its small picture is drawn behind
        const QImage picture = d.find("checks.picture")->grab().toImage();
        int ink = 0;
        for (int y = 0; y < picture.height(); ++y)
            for (int x = 0; x < picture.width(); ++x) ink += picture.pixelColor(x, y).lightness() < 170;
        return ink > 400;
    };
    if (!QTest::qWaitFor(drawn, 20'000)) qFatal("no picture of the worst place");
    shoot(d.window.get(), "check-sheet.png");
    ask::answerUnsaved(ask::Unsaved::Discard);
    return 0;
}
