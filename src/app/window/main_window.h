#pragma once
#include "app/state/store.h"
#include <QMainWindow>
#include <memory>

class QHBoxLayout;
class QLabel;
class QVBoxLayout;

namespace vicinal {

class ChecksDock;
class Commands;
class MessageBar;
class Panels;
class RunSheet;
class ScheduleDock;
class SeatView;
class Segmented;
class StartPanel;
class StatusLine;
class Strip;
class Viewport;
class Yard;
struct ActionGroups;

/// The window: menus and one tool row; yard, view, run sheet; strip; status line. What its commands do stands in
/// app/actions.
class MainWindow : public QMainWindow {
    Q_OBJECT
public:
    MainWindow();
    ~MainWindow() override;

    Store& store() { return *m_store; }
    Viewport& view() { return *m_view; }
    SeatView& seatView() { return *m_seatView; }
    Strip& strip() { return *m_strip; }
    RunSheet& sheet() { return *m_sheet; }
    Yard& yard() { return *m_yard; }
    ScheduleDock& schedule() { return *m_schedule; }
    ChecksDock& checks() { return *m_checksDock; }
    Panels& panels() { return *m_panels; }
    Commands& commands() { return *m_commands; }
    ActionGroups& groups() { return *m_groups; }

    /// Opens a document; on failure a message stands in the window and the old document stays.
    bool openFile(const QString& path);
    /// Opens a file under a title without taking it as the file to save to.
    bool openDemo(const QString& path, const QString& title);
    /// A message above the view until it is closed or replaced.
    void showMessage(const QString&, bool wrong = true);
    /// With a button that does something about it.
    void offer(const QString&, const QString& button, std::function<void()> does);
    void hideMessage();
    QString message() const;
    /// Asks about work that a program that ended badly left behind.
    void offerJournals();
    /// Sizes and panels as they were when the window was closed last.
    void restoreWindow();
    /// The newest edit is worked out; false when the user did not wait for that.
    bool workedOut();

protected:
    void closeEvent(QCloseEvent*) override;
    void dragEnterEvent(QDragEnterEvent*) override;
    void dropEvent(QDropEvent*) override;

private:
    void buildMenuBar();
    void buildToolRow(QWidget*);
    void addButton(QHBoxLayout*, const QString& command, const QString& text, const char* icon = nullptr);
    QWidget* buildCentre();
    void connectStart();
    void connectPanels();
    void refresh();
    void refreshTitle();

    Store* m_store;
    Yard* m_yard;
    Viewport* m_view;
    SeatView* m_seatView;
    RunSheet* m_sheet;
    Strip* m_strip;
    ScheduleDock* m_schedule;
    ChecksDock* m_checksDock;
    Panels* m_panels = nullptr;
    Commands* m_commands = nullptr;
    std::unique_ptr<ActionGroups> m_groups;
    StartPanel* m_start = nullptr;
    MessageBar* m_message = nullptr;
    StatusLine* m_status = nullptr;
    QLabel* m_fileLabel = nullptr;
    Segmented *m_looks = nullptr, *m_units = nullptr;
};

} // namespace vicinal
