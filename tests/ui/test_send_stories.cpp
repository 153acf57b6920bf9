// Sending out and loose parts, in the real window.
#include "app/send/previews.h"
#include "app/send/send_window.h"
#include "app/view/pick.h"
#include "app/view/toolbox.h"
#include "app/yard/yard.h"
#include "exchange/out/export_set.h"
#include "made.h"
#include "model/document/heap.h"
#include "model/document/path_item.h"
#include "suite.h"
#include "ui/story.h"
#include <QCheckBox>
#include <QClipboard>
#include <QComboBox>
#include <QFile>
#include <QImage>
#include <QLabel>
#include <QListWidget>
#include <QTableView>
#include <QTableWidget>
#include <QTemporaryDir>

namespace test_send_stories {

using namespace vicinal;
using namespace vicinal::test;

namespace {

const QString kQuay = VICINAL_SOURCE "/examples/saltmarrow-quay.json";
constexpr Id kBalustrade = 5;

/// What a user does in the window that sends out.
struct Sending {
    QDialog* dialog;
    template<class T> T* find(const QString& name) const {
        T* w = dialog->findChild<T*>(name);
        if (!w) qFatal("no widget %s", qPrintable(name));
        return w;
    }
    QPushButton* button(const QString& name) const { return find<QPushButton>("send." + name); }
    void click(const QString& name) const {
        auto* b = find<QAbstractButton>("send." + name);
        if (auto* scroll = dialog->findChild<QScrollArea*>()) scroll->ensureWidgetVisible(b);
        QTest::mouseClick(b, Qt::LeftButton, {}, Driver::spot(b));
    }
    void type(const QString& key, const QString& text) const {
        auto* edit = find<QLineEdit>("edit.send." + key);
        edit->setFocus();
        edit->selectAll();
        QTest::keyClicks(edit, text);
        QTest::keyClick(edit, Qt::Key_Return);
    }
    void call(const QString& name) const {
        auto* edit = find<QLineEdit>("send.name");
        edit->setFocus();
        edit->selectAll();
        QTest::keyClicks(edit, name);
    }
    /// Leaves only these ticked.
    void only(const QStringList& names) const {
        auto* list = find<QListWidget>("send.what");
        for (int i = 0; i < list->count(); ++i) {
            const bool wanted = names.contains(list->item(i)->text().section("   ", 0, 0));
            if ((list->item(i)->checkState() == Qt::Checked) == wanted) continue;
            list->scrollToItem(list->item(i));
            QTest::mouseClick(list->viewport(), Qt::LeftButton, {},
                              list->visualItemRect(list->item(i)).topLeft() + QPoint(12, 12));
        }
    }
    bool ready() const {
        return QTest::qWaitFor([&] { return button("write")->isEnabled(); }, 30'000);
    }
    QString says() const { return find<QLabel>("send.says")->text(); }
    QString size() const { return find<QLabel>("send.size")->text(); }
};

} // namespace

class TestSendStories : public QObject {
    Q_OBJECT
private slots:
    void everyKindIsSeenAndWritten();
    void aTemplateIsSeenBeforeItIsWritten();
    void aFaceIsPickedForTheTemplate();
    void deliveriesAreKeptAndMadeAgain();
    void picturesOfAnySize();
    void aRunIsReleasedToLooseParts();
    void hiddenPathsAreNotDrawnOrPicked();
    void theYardHidesShowsAndFilters();
};

void TestSendStories::everyKindIsSeenAndWritten() {
    Driver d;
    QTemporaryDir dir;
    QVERIFY(d.open(kQuay));
    const std::tuple<QString, int, QString, QString> kinds[] = {
        {"template", 2, "dxf", "sheet"},   {"tape", 0, "pdf", "strip"},
        {"tape", 1, "csv", "row"},         {"drawing", 0, "pdf", "1 : "},
        {"drawing", 1, "svg", "1 : "},     {"solids", 0, "step", "62 bodies of 1 part"},
        {"solids", 1, "glb", "metres"},    {"solids", 2, "dxf", "62 bod"},
        {"solids", 6, "3mf", "62 bodies"}, {"schedule", 0, "ods", "62 rows"},
        {"schedule", 1, "csv", "62 rows"}};
    for (const auto& [kind, format, extension, fact] : kinds) {
        const QString file = dir.filePath(kind + "." + extension);
        ask::answerFile(file);
        QString size, says;
        d.whenDialog("sendOut", [&](QDialog* dialog) {
            const Sending s{dialog};
            s.click("kind." + kind);
            s.only({"Ramp balustrade"});
            s.click("format." + QString::number(format));
            if (!s.ready()) qFatal("never ready: %s", qPrintable(s.says()));
            size = s.size();
            says = s.says();
            s.click("write");
        });
        d.click("tool.sendOut");
        QVERIFY2(size.contains(fact), qPrintable(kind + ": " + size));
        QVERIFY2(d.window->message().contains(" written"), qPrintable(d.window->message()));
        QVERIFY2(QFile::exists(file), qPrintable(file));
    }
    QFile csv(dir.filePath("schedule.csv"));
    QVERIFY(csv.open(QIODevice::ReadOnly));
    QCOMPARE(csv.readAll().count('\n'), 63);
    // Nothing ticked: told, and nothing can be written.
    d.whenDialog("sendOut", [&](QDialog* dialog) {
        const Sending s{dialog};
        s.only({});
        QVERIFY(QTest::qWaitFor([&] { return s.says().contains("Tick something else"); }));
        QVERIFY(!s.button("write")->isEnabled() && !s.button("keep")->isEnabled());
        s.click("close");
    });
    d.click("tool.sendOut");
    // A folder that is not there.
    ask::answerFile("/nowhere/at/all/x.csv");
    d.whenDialog("sendOut", [&](QDialog* dialog) {
        const Sending s{dialog};
        s.click("kind.schedule");
        QVERIFY(s.ready());
        s.click("write");
    });
    d.click("tool.sendOut");
    QVERIFY2(d.window->message().contains("cannot be made"), qPrintable(d.window->message()));
}

/// Paper, proof of scale and pages are looked at while they are chosen; what cannot be keeps the button shut.
void TestSendStories::aTemplateIsSeenBeforeItIsWritten() {
    Driver d;
    QVERIFY(d.open(kQuay));
    d.store().selectItem(Selection::Kind::Run, d.store().document().run("Drain cover holes")->id);
    d.settle();
    QTemporaryDir dir;
    const QString file = dir.filePath("holes.pdf");
    ask::answerFile(file);
    bool whole = false, page = false;
    d.whenDialog("sendOut", [&](QDialog* dialog) {
        const Sending s{dialog};
        QVERIFY(s.ready());
        const QString on4 = s.size();
        whole = dialog->findChild<TemplatePreview*>()->isVisible();
        s.click("next");
        auto* sheet = dialog->findChild<SheetPreview*>();
        page = sheet->isVisible();
        QTRY_VERIFY(sheet->drawn() && sheet->picture());
        const PagePicture& drawn = *sheet->picture();
        QVERIFY(std::abs(drawn.width * drawn.height - 210 * 297) < 1e-9 && drawn.labels.size() > 2);
        QRectF lines;
        for (const auto& way : drawn.ways) lines |= way.lines.boundingRect();
        QVERIFY(lines.width() > 50 && lines.height() > 50);
        s.click("paper.1"); // A3
        QTRY_VERIFY(s.size() != on4 && s.size().contains("sheet"));
        s.type("barAcross", "50");
        QTRY_VERIFY(s.find<ValueField>("field.send.barAcross")->problem().contains("full size"));
        QVERIFY(!s.button("write")->isEnabled());
        s.type("barAcross", "99.5");
        QVERIFY(s.ready());
        QTRY_VERIFY(s.size().contains("corrected by 0.5 % across"));
        s.click("write");
    });
    d.find<QAction>("action.template")->trigger();
    d.settle();
    QVERIFY(whole && page);
    // Enter in a field took its value, and made nothing else.
    QVERIFY(QDir(VICINAL_SOURCE "/examples").entryList({"*.pdf", "*.ods"}).isEmpty());
    QFile pdf(file);
    QVERIFY(pdf.open(QIODevice::ReadOnly) && pdf.read(5) == "%PDF-");
}

void TestSendStories::aFaceIsPickedForTheTemplate() {
    Driver d;
    QVERIFY(d.open(kQuay));
    d.store().selectItem(Selection::Kind::Run, d.store().document().run("Boardwalk planks")->id);
    d.settle();
    d.view().frameSelection();
    d.settle();
    Vec3 normal = Vec3::Zero();
    // The top of a plank in the middle of the picture.
    const auto run = d.run();
    const Frame& f = run->placed->frame(run->placed->count() / 2);
    const Vec3 top = f.seat + f.axes.col(2) * (run->part->seated->max().z());
    d.whenDialog("sendOut", [&](QDialog* dialog) {
        const Sending s{dialog};
        s.click("plane.4");
        s.click("face"); // the window steps aside
        QTimer::singleShot(200, d.window.get(), [&] {
            const auto at = d.view().camera().project(top);
            d.clickAt(&d.view(), QPointF(at->x(), at->y()));
            d.whenDialog("sendOut", [&](QDialog* again) {
                normal = std::get<TemplateOrder>(static_cast<SendWindow*>(again)->delivery().order).normal;
                again->reject();
            });
        });
    });
    d.find<QAction>("action.template")->trigger();
    QVERIFY(QTest::qWaitFor([&] { return normal.norm() > 0.5; }, 10'000));
    QVERIFY2(normal.dot(f.axes.col(2)) > 0.999,
             qPrintable(QString("%1 %2 %3").arg(normal.x()).arg(normal.y()).arg(normal.z())));
}

void TestSendStories::deliveriesAreKeptAndMadeAgain() {
    Driver d;
    QTemporaryDir dir;
    QVERIFY(d.open(kQuay));
    ask::answerFile(dir.filePath("quay.vicinal"));
    d.key(Qt::Key_S, Qt::ControlModifier | Qt::ShiftModifier);
    const size_t before = d.store().document().deliveries.size();
    d.whenDialog("sendOut", [&](QDialog* dialog) {
        const Sending s{dialog};
        s.click("kind.drawing");
        s.only({"Ramp balustrade"});
        s.call("Ramp sheet");
        auto* fields = s.find<QTableWidget>("send.fields");
        fields->item(0, 0)->setText("Drawn by");
        fields->item(0, 1)->setText("M. Tollan");
        QVERIFY(s.ready());
        s.click("keep");
        s.click("kind.schedule");
        s.call("Cut list");
        s.click("of.1");
        auto* folder = s.find<QLineEdit>("send.folder");
        folder->setFocus();
        QTest::keyClicks(folder, "lists");
        QVERIFY(s.ready());
        s.click("keepNew");
        s.click("close");
    });
    d.click("tool.sendOut");
    const auto& kept = d.store().document().deliveries;
    QCOMPARE(kept.size(), before + 2);
    const Delivery first = *kept[before], second = *kept[before + 1];
    QCOMPARE(QString::fromStdString(first.name), QString("Ramp sheet"));
    QCOMPARE(first.what, std::vector<Id>{kBalustrade});
    QCOMPARE(first.fields.size(), size_t(1));
    QCOMPARE(second.name, std::string("Cut list"));
    QVERIFY(std::get<ScheduleOrder>(second.order).of == ScheduleOf::Parts);
    // One key makes all of them, beside the document.
    d.key(Qt::Key_D, Qt::ControlModifier | Qt::ShiftModifier);
    QVERIFY2(d.window->message().contains("made again"), qPrintable(d.window->message()));
    QVERIFY(QFile::exists(dir.filePath("Ramp sheet.pdf")) && QFile::exists(dir.filePath("lists/Cut list.ods")));
    // Outside the document's own folder only after a question.
    QTemporaryDir outside;
    d.whenDialog("sendOut", [&](QDialog* dialog) {
        const Sending s{dialog};
        s.click("kind.schedule");
        s.call("Away");
        auto* folder = s.find<QLineEdit>("send.folder");
        folder->setFocus();
        QTest::keyClicks(folder, outside.path());
        QVERIFY(s.ready());
        s.click("keepNew");
        s.click("close");
    });
    d.click("tool.sendOut");
    QFile::remove(dir.filePath("Ramp sheet.pdf"));
    for (const bool may : {false, true}) {
        ask::answerDeliverOutside(may);
        d.key(Qt::Key_D, Qt::ControlModifier | Qt::ShiftModifier);
        QVERIFY2(d.window->message().contains("made again"), qPrintable(d.window->message()));
        QCOMPARE(d.window->message().contains("Away"), may);
        QCOMPARE(QFile::exists(outside.filePath("Away.ods")), may);
        QVERIFY(QFile::exists(dir.filePath("Ramp sheet.pdf")));
    }
    d.key(Qt::Key_Z, Qt::ControlModifier);
    QCOMPARE(d.store().document().deliveries.size(), before + 2);
    // After a change the window says which are behind; made again, they are not.
    const auto list = [&](QDialog* dialog) {
        QStringList out;
        auto* l = Sending{dialog}.find<QListWidget>("send.deliveries");
        for (int i = 0; i < l->count(); ++i) out += l->item(i)->text();
        return out.join(" | ");
    };
    QString now;
    d.whenDialog("sendOut", [&](QDialog* dialog) { now = list(dialog), dialog->reject(); });
    d.click("tool.sendOut");
    QVERIFY2(now.contains("made just now") && !now.contains("changed since"), qPrintable(now));
    d.store().selectItem(Selection::Kind::Run, kBalustrade);
    d.settle();
    d.type("insetStart", "130");
    QFile::remove(dir.filePath("lists/Cut list.ods"));
    d.whenDialog("sendOut", [&](QDialog* dialog) {
        now = list(dialog);
        Sending{dialog}.click("makeAll");
        now += " then " + list(dialog);
        // One that is kept is loaded with a click, and deleted with a button.
        auto* l = Sending{dialog}.find<QListWidget>("send.deliveries");
        QTest::mouseClick(l->viewport(), Qt::LeftButton, {}, l->visualItemRect(l->item(int(before))).center());
        QCOMPARE(static_cast<SendWindow*>(dialog)->delivery().name, std::string("Ramp sheet"));
        QVERIFY(Sending{dialog}.ready());
        Sending{dialog}.click("remove");
        dialog->reject();
    });
    d.click("tool.sendOut");
    QVERIFY2(now.section(" then ", 0, 0).contains("changed since") &&
                 !now.section(" then ", 1).contains("changed since"),
             qPrintable(now));
    QVERIFY(QFile::exists(dir.filePath("lists/Cut list.ods")));
    QCOMPARE(d.store().document().deliveries.size(), before + 1);
    d.key(Qt::Key_Z, Qt::ControlModifier);
    QCOMPARE(d.store().document().deliveries.size(), before + 2);
}

void TestSendStories::picturesOfAnySize() {
    Driver d;
    QTemporaryDir dir;
    QVERIFY(d.open(kQuay));
    if (d.view().picture().isNull()) QSKIP("no OpenGL here");
    const auto make = [&](const QString& file, std::function<void(const Sending&)> choose) {
        ask::answerFile(file);
        d.whenDialog("sendOut", [&](QDialog* dialog) {
            const Sending s{dialog};
            s.click("kind.picture");
            s.only({"Quay lights"});
            choose(s);
            if (!s.ready()) qFatal("never ready: %s", qPrintable(s.says()));
            s.click("write");
        });
        d.click("tool.sendOut");
    };
    make(dir.filePath("a.png"), [](const Sending& s) {
        s.type("width", "777");
        s.type("height", "333");
        s.click("background");
    });
    QVERIFY(QFile::exists(dir.filePath("a.png")));
    const QImage a(dir.filePath("a.png"));
    QCOMPARE(a.size(), QSize(777, 333));
    int clear = 0, full = 0;
    for (int y = 0; y < a.height(); ++y)
        for (int x = 0; x < a.width(); ++x) {
            clear += qAlpha(a.pixel(x, y)) == 0;
            full += qAlpha(a.pixel(x, y)) == 255;
        }
    QVERIFY2(clear > 50'000 && full > 1'000, qPrintable(QString("%1 %2").arg(clear).arg(full)));
    // Larger than the screen, with a background, numbers and grid: opaque, and another picture.
    make(dir.filePath("b.png"), [](const Sending& s) {
        s.type("width", "3000");
        s.type("height", "2000");
        s.click("labels");
        s.click("grid");
    });
    const QImage b(dir.filePath("b.png"));
    QCOMPARE(b.size(), QSize(3000, 2000));
    QVERIFY(qAlpha(b.pixel(0, 0)) == 255 && b.pixel(0, 0) != b.pixel(0, 1999));
    make(dir.filePath("c.svg"), [](const Sending& s) { s.click("of.1"); });
    QFile svg(dir.filePath("c.svg"));
    QVERIFY(svg.open(QIODevice::ReadOnly) && svg.readAll().contains("<path"));
    make(dir.filePath("turn.png"), [](const Sending& s) {
        s.click("of.2");
        s.type("frames", "5");
        s.type("width", "200");
        s.type("height", "100");
    });
    QCOMPARE(QDir(dir.path()).entryList({"turn-*.png"}).size(), 5);
    QVERIFY(QImage(dir.filePath("turn-0001.png")) != QImage(dir.filePath("turn-0003.png")));
    // The clipboard.
    d.whenDialog("sendOut", [&](QDialog* dialog) {
        const Sending s{dialog};
        s.click("kind.picture");
        s.type("width", "400");
        s.type("height", "300");
        QVERIFY(s.ready());
        s.click("copy");
        dialog->reject();
    });
    d.click("tool.sendOut");
    QCOMPARE(QGuiApplication::clipboard()->image().size(), QSize(400, 300));
}

void TestSendStories::aRunIsReleasedToLooseParts() {
    Driver d;
    QVERIFY(d.open(kQuay));
    const Id lights = d.store().document().run("Quay lights")->id;
    d.store().selectItem(Selection::Kind::Run, lights);
    d.settle();
    const auto before = d.run();
    d.find<QAction>("action.release.hidden")->trigger();
    d.settle();
    const auto heap = [&] { return heapInHand(d.store()); };
    QVERIFY(heap() && !d.store().document().run(lights));
    QCOMPARE(heap()->present(), 9);
    QVERIFY(d.store().document().path(before->item->path)->hidden);
    QVERIFY(d.window->yard().rowOf(heap()->item->id).isValid());
    // One is clicked in the view, dragged by its handle, typed to a place, turned.
    d.view().frameSelection();
    d.settle();
    const Loose third = heap()->item->parts[2];
    const auto on = d.view().camera().project(
        Vec3((heap()->instances->pose(2) * heap()->partAt(2).mesh->box.center().homogeneous()).head<3>()));
    d.clickAt(&d.view(), QPointF(on->x(), on->y()));
    QCOMPARE(d.store().selection().places, std::set<int>{2});
    const auto handle = d.view().tools().edit().handleAt("loose");
    QVERIFY(handle.has_value());
    const size_t steps = d.store().history().index();
    d.drag(&d.view(), *handle, *handle + QPointF(40, 0));
    QCOMPARE(d.store().history().index(), steps + 1); // a whole drag is one step
    const Vec3 dragged = heap()->item->parts[2].frame.seat;
    QVERIFY((dragged - third.frame.seat).norm() > 1 && std::abs(dragged.z() - third.frame.seat.z()) < 1e-6);
    QCOMPARE(heap()->item->parts[3].frame.seat, before->placed->frame(3).seat);
    d.type("heap.at.0", "1234.5");
    NEAR(heap()->item->parts[2].frame.seat.x(), 1234.5, 1e-9);
    d.type("heap.turn.2", "90");
    NEAR(anglesOf(heap()->item->parts[2].frame.axes).heading - anglesOf(third.frame.axes).heading, kPi / 2, 1e-9);
    // Another part, then away with it.
    auto* part = d.find<QComboBox>("heap.part");
    const int other = part->currentIndex() == 0 ? 1 : 0;
    part->setCurrentIndex(other);
    emit part->activated(other);
    d.settle();
    QCOMPARE(heap()->item->parts[2].part, Id(part->itemData(other).toInt()));
    d.view().setFocus();
    d.key(Qt::Key_Delete, Qt::NoModifier);
    QCOMPARE(heap()->item->parts.size(), size_t(8));
    // Frozen: nothing of that, and it says so.
    d.store().select({Selection::Kind::Heap, heap()->item->id, {0}, -1, {}});
    d.settle();
    d.find<QCheckBox>("heap.frozen")->click();
    d.settle();
    QVERIFY(!d.view().tools().edit().handleAt("loose").has_value());
    d.view().setFocus();
    d.key(Qt::Key_Delete, Qt::NoModifier);
    QVERIFY2(d.window->message().contains("frozen"), qPrintable(d.window->message()));
    QCOMPARE(heap()->item->parts.size(), size_t(8));
    // Undo, all the way, brings the run back.
    while (!d.store().document().run(lights) && d.store().history().canUndo()) d.store().undo();
    d.settle();
    const auto back = d.store().evaluation().run(lights);
    QVERIFY(back && back->placed->present == 9 && d.store().document().heaps.empty());
    QVERIFY(!d.store().document().path(before->item->path)->hidden);
}

void TestSendStories::hiddenPathsAreNotDrawnOrPicked() {
    Driver d;
    QVERIFY(d.open(kQuay));
    d.view().setLook(Viewport::Look::Plan);
    d.settle();
    const auto path = d.store().evaluation().paths.at(d.store().document().paths[4]->id); // nothing stands on it
    const auto at = d.view().camera().project(path->path->at(path->path->length() * 0.37).point);
    d.store().select({});
    d.clickAt(&d.view(), QPointF(at->x(), at->y()));
    const Id picked = d.store().selection().id;
    QCOMPARE(picked, path->item->id);
    d.store().change<PathItem>(picked, "Hide", {}, [](PathItem& p) { p.hidden = true; });
    d.store().select({});
    d.clickAt(&d.view(), QPointF(at->x(), at->y()));
    QVERIFY(d.store().selection().id != picked);
}

void TestSendStories::theYardHidesShowsAndFilters() {
    Story d(kBalustrade, kQuay);
    auto& yard = d.window->yard();
    const Id lights = d.store().document().run("Quay lights")->id;
    const auto row = [&](Id id) { return QPointF(yard.visualRect(yard.rowOf(id)).center()); };
    const auto seen = [&](Id id) { // a place of it is picked in the middle of the picture
        const auto run = d.store().evaluation().run(id);
        const Placed& p = *run->placed;
        const auto at =
            d.view().camera().project(Vec3((p.pose(2) * p.part(2).mesh->box.center().homogeneous()).head<3>()));
        const auto pick = pickPlace(d.view(), QPointF(at->x(), at->y()));
        return pick && pick->run == id;
    };
    d.store().selectItem(Selection::Kind::Run, lights);
    d.settle();
    d.view().frameSelection();
    d.store().selectItem(Selection::Kind::Run, kBalustrade);
    d.settle();
    QVERIFY(seen(lights));
    d.fromMenu(yard.viewport(), row(lights), "Hide");
    QVERIFY(d.store().document().run("Quay lights")->hidden && !seen(lights));
    // It is left out when everything goes; worked on, it is there.
    QCOMPARE(made(exportSetOf(d.store().evaluation(), {})).standing.size(), d.store().document().runs.size() - 1);
    d.store().selectItem(Selection::Kind::Run, lights);
    d.settle();
    QVERIFY(seen(lights));
    d.fromMenu(yard.viewport(), row(kBalustrade), "Show only this");
    for (const auto& r : d.store().document().runs) QCOMPARE(r->hidden, r->id != kBalustrade);
    QVERIFY(!d.store().document().path(d.store().document().run(kBalustrade)->path)->hidden);
    d.fromMenu(yard.viewport(), row(kBalustrade), "Show everything");
    for (const auto& r : d.store().document().runs) QVERIFY(!r->hidden);
    for (const auto& p : d.store().document().paths) QVERIFY(!p->hidden);
    // Undone step by step.
    d.key(Qt::Key_Z, Qt::ControlModifier);
    QVERIFY(d.store().document().run("Quay lights")->hidden);
    d.key(Qt::Key_Z, Qt::ControlModifier);
    d.key(Qt::Key_Z, Qt::ControlModifier);
    QVERIFY(!d.store().document().run("Quay lights")->hidden);
    // A filter leaves what has it in its name; a folded list is another matter.
    auto* filter = d.find<QLineEdit>("yard.filter");
    filter->setFocus();
    QTest::keyClicks(filter, "qUay");
    d.settle();
    QVERIFY(yard.rowOf(lights).isValid() && !yard.rowOf(kBalustrade).isValid());
    QVERIFY(!yard.visualRect(yard.rowOf(lights)).intersects(QRect(0, -100, 500, 100)));
    filter->clear();
    d.settle();
    QVERIFY(yard.rowOf(kBalustrade).isValid());
}

VICINAL_SUITE(TestSendStories)

} // namespace test_send_stories
#include "test_send_stories.moc"
