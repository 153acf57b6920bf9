#include "app/controls/theme.h"
#include "app/view/viewport.h"
#include "app/window/main_window.h"
#include <QApplication>
#include <QCommandLineParser>
#include <QElapsedTimer>
#include <QPixmap>
#include <QTimer>
#include <clocale>
#include <cstdio>

namespace {

/// No exception may cost more than a message: what a click or a timer throws is told, and the window goes on with what
/// it had (the journal holds the last edit).
class Application : public QApplication {
public:
    using QApplication::QApplication;
    vicinal::MainWindow* window = nullptr;
    bool notify(QObject* receiver, QEvent* event) override {
        try {
            return QApplication::notify(receiver, event);
        } catch (const std::bad_alloc&) {
            tell(tr("There is not enough memory for this. Save your work, and make it simpler."));
        } catch (const std::exception& e) {
            tell(tr("This cannot be done: %1.").arg(e.what()));
        } catch (...) {
            tell(tr("This cannot be done: a library gave up without a reason."));
        }
        return true;
    }

private:
    void tell(const QString& text) const {
        std::fprintf(stderr, "vicinal: %s\n", qPrintable(text));
        if (window) window->showMessage(text);
    }
};

} // namespace

int main(int argc, char** argv) {
    QElapsedTimer clock;
    clock.start();
    vicinal::keepGoingOnFileSignals();
    Application app(argc, argv);
    std::setlocale(LC_NUMERIC, "C"); // files are read and written with a decimal point wherever we are
    QApplication::setApplicationName("Vicinal");
    QApplication::setOrganizationName("Vicinal");
    QApplication::setApplicationVersion("0.1.0");
    QCommandLineParser parser;
    parser.setApplicationDescription(QObject::tr("Places rigid parts along a path."));
    parser.addHelpOption();
    parser.addVersionOption();
    parser.addPositionalArgument("file", QObject::tr("A .vicinal document to open"), "[file]");
    const QCommandLineOption demo("demo", QObject::tr("Open the file as the demo: saving asks for a name"));
    const QCommandLineOption picture("picture", QObject::tr("Write a picture of the window and leave"), "file.png");
    const QCommandLineOption timing("timing", QObject::tr("Print the time from start to the first picture and leave"));
    const QCommandLineOption look("look", QObject::tr("3d, plan, front or side"), "name");
    parser.addOptions({demo, picture, timing, look});
    parser.process(app);

    vicinal::theme::apply(app);
    vicinal::MainWindow window;
    app.window = &window;
    bool opened = true;
    if (!parser.positionalArguments().isEmpty()) {
        const QString file = parser.positionalArguments().front();
        opened = parser.isSet(demo) ? window.openDemo(file, "Saltmarrow Quay") : window.openFile(file);
    }
    if (!parser.isSet(picture)) window.restoreWindow();
    window.show();
    if (!parser.isSet(picture) && !parser.isSet(timing))
        QTimer::singleShot(0, &window, [&window] { window.offerJournals(); });
    if (parser.isSet(look)) {
        const QStringList names{"3d", "plan", "front", "side"};
        const int at = int(names.indexOf(parser.value(look)));
        if (at > 0)
            QTimer::singleShot(0, &window, [&window, at] { window.view().setLook(vicinal::Viewport::Look(at)); });
    }
    if (parser.isSet(timing))
        QObject::connect(&window.view(), &vicinal::Viewport::firstFrame, &app, [&] {
            std::printf("first frame after %lld ms\n", static_cast<long long>(clock.elapsed()));
            QApplication::exit(0);
        });
    if (parser.isSet(picture)) {
        QTimer::singleShot(900, &window, [&] {
            const bool written = window.grab().save(parser.value(picture), "PNG");
            if (!written) std::fprintf(stderr, "vicinal: cannot write %s\n", qPrintable(parser.value(picture)));
            QApplication::exit(written && opened ? 0 : 2);
        });
    }
    return QApplication::exec();
}
