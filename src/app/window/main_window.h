#pragma once
#include "app/dialogs/part_chooser.h"
#include "app/send/send_window.h"
#include "app/state/store.h"
#include "model/document/part_item.h"
#include <QImage>
#include <QMainWindow>
#include <array>
#include <functional>
#include <optional>

class QLabel;
class QMenu;
class QProgressBar;
class QPushButton;
class QTimer;
class QSplitter;

namespace vicinal {

class RunSheet;
class ChecksDock;
class ScheduleDock;
class SeatView;
class StartPanel;
class Segmented;
class Strip;
class Viewport;
class Yard;

enum class GroundForm;

/// The window: menus and one tool row; yard, view, run sheet; strip; status line.
class MainWindow : public QMainWindow {
    Q_OBJECT
public:
    MainWindow();

    Store& store() { return *m_store; }
    Viewport& view() { return *m_view; }
    SeatView& seatView() { return *m_seatView; }
    Strip& strip() { return *m_strip; }
    RunSheet& sheet() { return *m_sheet; }
    Yard& yard() { return *m_yard; }
    ScheduleDock& schedule() { return *m_schedule; }
    ChecksDock& checks() { return *m_checksDock; }

    /// Opens a document; on failure a message stands in the window and the old document stays.
    bool openFile(const QString& path);
    /// Opens a file under a title without taking it as the file to save to.
    bool openDemo(const QString& path, const QString& title);
    /// A message above the view until it is closed or replaced.
    void showMessage(const QString&, bool wrong = true);
    void hideMessage();
    QString message() const;
    /// Asks about work that a program that ended badly left behind.
    void offerJournals();
    /// Sizes and panels as they were when the window was closed last.
    void restoreWindow();

protected:
    void closeEvent(QCloseEvent*) override;
    void dragEnterEvent(QDragEnterEvent*) override;
    void dropEvent(QDropEvent*) override;

private:
    // main_window.cpp
    void buildToolRow(QWidget*);
    QWidget* buildMiddle();
    QWidget* buildStatus();
    void refresh();
    void refreshStatus();
    // main_actions.cpp
    void buildMenus();
    QAction* add(QMenu*, const QString& text, const QString& name, const QKeySequence&, const QString& tip,
                 std::function<void()>);
    void newDocument();
    void open();
    bool save();
    bool saveAs();
    bool saveTo(const QString& path);
    bool load(const QString& path, const QString& file, const QString& title);
    void showPanel(int which, bool shown);
    void refreshPanels();
    void resetWindow();
    void rememberWindow();
    bool mayLeave();
    // send_actions.cpp
    /// The window that sends out; `kind`: by its place in SendOrder, or below 0.
    void send(int kind = -1);
    void makeDeliveries();
    QImage pictureFor(const Delivery&, QSize most);
    std::optional<std::vector<OutFile>> picturesOf(const Delivery&, QString* why);
    /// `known`: what the window worked out already.
    std::optional<QStringList> writeDelivery(const Delivery&, const QString& folder, WrittenFiles&,
                                             std::shared_ptr<const Ready> known = nullptr);
    void sendMotion();
    /// Pictures of the view by time, handed to `take` with their numbers, until it says false. False when cancelled.
    bool eachPicture(long count, double step, const std::function<bool(const QImage&, long)>& take);
    bool workedOut();
    QImage picture();
    void showWork(bool running);
    void detachStrip(bool);
    void removeSelected();
    void remember(const QString& file);
    void fillRecent();
    void fillHistory();
    // site_actions.cpp
    void buildSiteMenu();
    void newBody();
    void addBody(BodyItem, const QString& step);
    /// A plate or a wall of the path in hand.
    void bodyOfPath(bool wall);
    void bodyOfPart();
    /// Rails of the run in hand: hand rail, middle rail in straight pieces, two at a gauge.
    void railsOfRun(int which);
    /// The body that the run's places are nearest to, cut or raised on by it; 0: that one.
    void cutByRun(Id body, Id run, bool raise);
    Id nearestBody(const RunResult&) const;
    void makeGround(GroundForm);
    void bringInBody();
    void bringInBodyFile(const QString& path);
    void bringInGround();
    void bringInGroundFile(const QString& path);
    /// A new path: this one, laid on a body; 0: the ground that is there.
    void layPath(Id path, Id body);
    void removeItems(const std::set<Id>&);
    void copyItems(const std::set<Id>&);
    /// About as large as a quarter of what is seen, to one digit.
    double roundSize() const;
    // check_actions.cpp
    void buildCheckMenu();
    void sendCheckSheet();
    // heap_actions.cpp
    void release(Id run, int path);
    void removeLoose();
    // path_actions.cpp
    void newPath(const std::string& kind, const QString& name);
    void breakPath();
    void breakAt(double station);
    void breakAtPoint(PointsRecipe, int point);
    void movePath();
    // part_actions.cpp
    void buildPartMenu();
    void bringIn();
    void bringInFile(const QString& path);
    bool bringInPaths(const QString& path, bool mayBePart, bool* other);
    /// The part a file holds, asked for; nothing when that was given up. `other`: wanted as paths.
    /// `asBody`: in, that it is wanted as a site body; out, whether it is.
    std::optional<PartItem> partOf(const QString& path, bool mayBePaths, bool* other, bool* asBody = nullptr);
    void bringInBodies(PartItem, const QString& path);
    std::optional<PartItem> askForPart(const QString& title, const QString& accept, const std::vector<Id>& offered,
                                       Id* existing, bool* keepSeat = nullptr);
    std::optional<PartItem> partFrom(bool file, const std::optional<PartChoice>&, Id* existing);
    void addPart(PartItem, const QString& step);
    void newRun();
    void newPart();
    void addPiece(Id part);
    void mirrorPart(Id);
    void replacePart(Id);
    void raisePath();
    void editSeat(Id part);
    void copyItem(Id);

    static constexpr int kYardWidth = 224, kSheetWidth = 330; ///< at first

    Store* m_store;
    ScheduleDock* m_schedule = nullptr;
    ChecksDock* m_checksDock = nullptr;
    class QDialog* m_stripWindow = nullptr; ///< while the strip has one of its own
    QSplitter* m_middle = nullptr;
    std::array<QAction*, 3> m_panels{}; ///< show yard, sheet, strip
    std::array<int, 2> m_panelWidths{kYardWidth, kSheetWidth};
    bool m_stripWanted = true;
    MadeDeliveries m_made; ///< in this session
    Viewport* m_view = nullptr;
    SeatView* m_seatView = nullptr;
    Strip* m_strip = nullptr;
    RunSheet* m_sheet = nullptr;
    Yard* m_yard = nullptr;
    QWidget* m_messageBar = nullptr;
    StartPanel* m_start = nullptr;
    QProgressBar* m_workBar = nullptr;
    QPushButton* m_workButton = nullptr;
    QTimer* m_workDelay = nullptr;
    QLabel *m_message = nullptr, *m_fileLabel = nullptr, *m_status = nullptr, *m_statusHint = nullptr;
    Segmented *m_looks = nullptr, *m_units = nullptr;
    QMenu *m_recent = nullptr, *m_historyMenu = nullptr;
    QAction *m_undo = nullptr, *m_redo = nullptr, *m_parallel = nullptr, *m_leaveOut = nullptr, *m_reverseRun = nullptr,
            *m_playMotion = nullptr, *m_sendMotion = nullptr, *m_template = nullptr, *m_tape = nullptr,
            *m_standAlone = nullptr, *m_release[3] = {}, *m_sendOut = nullptr, *m_makeAll = nullptr,
            *m_newRun = nullptr, *m_comb = nullptr;
    QList<QAction*> m_needsPath;      ///< enabled while there is a path in hand
    QList<QAction*> m_needsRun;       ///< the same for a run
    QList<QAction*> m_needsPart;      ///< the same for a part
    QList<QAction*> m_needsBody;      ///< and for a site body
    bool m_inView = false;            ///< of what is brought in: where one looks
    std::vector<PartItem> m_eachBody; ///< of a file, each of its bodies by itself, when that was asked for
};

} // namespace vicinal
