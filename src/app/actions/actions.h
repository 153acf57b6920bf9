#pragma once
// What the window does, in groups: each hands out the rows of its menu and does what they ask for.
#include "app/actions/command.h"
#include "app/dialogs/part_chooser.h"
#include "app/send/send_window.h"
#include "app/state/latest.h"
#include "model/custom/custom.h"
#include "model/document/part_item.h"
#include <QImage>
#include <memory>
#include <optional>
#include <set>

namespace vicinal {

class MainWindow;
class SeatView;
class Store;
class Viewport;
struct EdgesRecipe;
struct PointsRecipe;
enum class GroundForm;

/// What all groups have at hand.
class Actions : public QObject {
    Q_OBJECT
public:
    explicit Actions(MainWindow&);

protected:
    void showMessage(const QString&, bool wrong = true) const;
    void hideMessage() const;
    /// The newest edit is worked out; false when the user did not wait for that.
    bool workedOut() const;
    /// About as large as a quarter of what is seen, to one digit.
    double roundSize() const;
    // What commands need
    bool pathInHand() const;
    bool partInHand() const;
    bool bodyInHand() const;
    bool runInHand() const; ///< worked out, as it is now
    /// A row for an item in hand.
    Command forPath(Command) const;
    Command forPart(Command) const;
    Command forBody(Command) const;
    Command forRun(Command) const;

    MainWindow& m_window;
    Store* m_store;
    Viewport* m_view;
    SeatView* m_seatView;
};

/// Documents: made, opened, saved, remembered.
class FileActions : public Actions {
    Q_OBJECT
public:
    using Actions::Actions;
    Menu menu();
    bool openFile(const QString& path);
    bool openDemo(const QString& path, const QString& title);
    /// Asks about work that a program that ended badly left behind.
    void offerJournals();
    /// What is not saved is asked for; false: one stays.
    bool mayLeave();
    /// A picture of the document for the list of documents of late; null when it has no file or nothing is to be seen.
    QImage picture();

private:
    void newDocument();
    void open();
    bool load(const QString& path, const QString& file, const QString& title);
    bool save();
    bool saveTo(const QString& path);
    bool saveAs();
    void remember(const QString& file);
    void fillRecent(QMenu&);
};

/// Steps taken back, and items deleted and copied.
class EditActions : public Actions {
    Q_OBJECT
public:
    using Actions::Actions;
    Menu menu();
    void removeSelected();
    void removeItems(const std::set<Id>&);
    void copyItems(const std::set<Id>&);

private:
    void removeLoose();
    void fillHistory(QMenu&);
};

/// Whole paths: made with first values, moved, broken, laid.
class PathActions : public Actions {
    Q_OBJECT
public:
    using Actions::Actions;
    Menu menu();
    void breakAt(double station);
    void takeEdge(const EdgesRecipe&);
    /// A new path: this one, laid on a body; 0: the ground that is there.
    void layPath(Id path, Id body);

private:
    Menu shapes();
    std::vector<MenuRow> derived();
    void newPath(const std::string& kind, const QString& name);
    void movePath();
    void breakPath();
    void breakAtPoint(PointsRecipe, int point);
};

/// What files hold, brought in as paths, parts, bodies or ground.
class BringInActions : public Actions {
    Q_OBJECT
public:
    using Actions::Actions;
    // Its rows stand where what they make stands.
    Command paths();
    Command part();
    Command body();
    Command ground();
    void bringInFile(const QString& path);
    void bringInBody();
    /// The part a file holds, asked for; nothing when that was given up. `other`: wanted as paths.
    /// `asBody`: in, that it is wanted as a site body; out, whether it is.
    std::optional<PartItem> partOf(const QString& path, bool mayBePaths, bool* other, bool* asBody = nullptr);

private:
    void bringIn();
    bool bringInPaths(const QString& path, bool mayBePart, bool* other);
    void bringInBodyFile(const QString& path);
    void bringInBodies(PartItem, const QString& path);
    void bringInGround();
    void bringInGroundFile(const QString& path);

    bool m_inView = false;            ///< of what is brought in: where one looks
    std::vector<PartItem> m_eachBody; ///< of a file, each of its bodies by itself, when that was asked for
};

/// Parts: made, copied, mirrored, replaced.
class PartActions : public Actions {
    Q_OBJECT
public:
    using Actions::Actions;
    Menu menu();
    void newPart();
    void addPart(PartItem, const QString& step);
    void addPiece(Id part);
    void mirrorPart(Id);
    void replacePart(Id);
    void editSeat(Id part);
    std::optional<PartItem> partFrom(bool file, const std::optional<PartChoice>&, Id* existing);

private:
    std::optional<PartItem> askForPart(const QString& title, const QString& accept, const std::vector<Id>& offered,
                                       Id* existing, bool* keepSeat = nullptr);
    void raisePath();
};

/// Site bodies: made, raised along paths, cut.
class SiteActions : public Actions {
    Q_OBJECT
public:
    using Actions::Actions;
    Menu menu();
    void newBody();
    void addBody(BodyItem, const QString& step);
    /// The body that the run's places are nearest to, cut or raised on by it; 0: that one.
    void cutByRun(Id body, Id run, bool raise);

private:
    /// A plate or a wall of the path in hand.
    void bodyOfPath(bool wall);
    void bodyOfPart();
    /// Rails of the run in hand: hand rail, middle rail in straight pieces, two at a gauge.
    void railsOfRun(int which);
    Id nearestBody(const RunResult&) const;
    void makeGround(GroundForm);
};

/// Runs: made, turned round, copied, released.
class RunActions : public Actions {
    Q_OBJECT
public:
    explicit RunActions(MainWindow&);
    Menu menu();
    void newRun();
    void release(Id run, int path);

private:
    void reverse();
    void standAlone();
    void offerMend(); ///< where the run that was begun last turns out to be wrong
    Id m_begun = 0;   ///< whose first verdict is awaited; 0: none
    Latest<std::optional<Mend>> m_mending{Lane::Small, this};
};

/// Goes to what is wrong, compares, sends out the check sheet.
class CheckActions : public Actions {
    Q_OBJECT
public:
    using Actions::Actions;
    Menu menu();
    void sendCheckSheet();

private:
    void goToWorst();
    void goToNext();
};

/// Sends out, in the window for it and again.
class SendActions : public Actions {
    Q_OBJECT
public:
    using Actions::Actions;
    Menu menu();

private:
    /// The window that sends out; `kind`: by its place in SendOrder, or below 0.
    void send(int kind = -1);
    void sendFrom(SendWindow&);
    void makeDeliveries();
    QImage pictureFor(const Delivery&, QSize most);
    std::optional<std::vector<OutFile>> picturesOf(const Delivery&, QString* why);
    /// `known`: what the window worked out already.
    std::optional<QStringList> writeDelivery(const Delivery&, const QString& folder, WrittenFiles&,
                                             std::shared_ptr<const Ready> known = nullptr);
    bool anything() const; ///< there is something to send out
    MadeDeliveries m_made; ///< in this session
};

/// What moves, sent out: a model, poses, pictures.
class MotionActions : public Actions {
    Q_OBJECT
public:
    using Actions::Actions;
    Command send();

private:
    void sendMotion();
    void sendPictures(const QString& folder, long frames, double step, const std::function<void()>& done);
    /// Pictures of the view by time, handed to `take` with their numbers, until it says false. False when cancelled.
    bool eachPicture(long count, double step, const std::function<bool(const QImage&, long)>& take);
};

/// How one looks, and which panels are shown.
class ViewActions : public Actions {
    Q_OBJECT
public:
    using Actions::Actions;
    Menu menu();

private:
    std::vector<MenuRow> panels();
};

class HelpActions : public Actions {
    Q_OBJECT
public:
    using Actions::Actions;
    Menu menu();

private:
    void show(const QString& title, const QString& text);
    static QString mouseAndKeys();
    static QString about();
};

/// All groups of a window.
struct ActionGroups {
    explicit ActionGroups(MainWindow&);
    FileActions files;
    EditActions edits;
    PathActions paths;
    BringInActions comings;
    PartActions parts;
    SiteActions site;
    RunActions runs;
    CheckActions checks;
    SendActions sending;
    MotionActions motion;
    ViewActions view;
    HelpActions help;
    /// The menus in their order.
    std::vector<Menu> menus();
};

} // namespace vicinal
