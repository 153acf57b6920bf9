#pragma once
#include "app/state/store.h"
#include <QScrollArea>
#include <functional>

class QComboBox;
class QLabel;
class QVBoxLayout;
class QLineEdit;
class QPushButton;

namespace vicinal {

class BodyEditor;
class HeapEditor;
class PartEditor;
class PathEditor;
class RunSection;
class Section;

/// The selected run's rules: a sentence, then Path, Part, Spacing, Facing, Places. Also serves a path or part on its
/// own.
class RunSheet : public QScrollArea {
    Q_OBJECT
public:
    explicit RunSheet(Store& store, QWidget* parent = nullptr);
    /// Unfolds the section of a field and puts the keyboard there.
    void goTo(const QString& field);
    PartEditor& part() { return *m_part; }

signals:
    void newRunWanted();
    void timeWanted(double seconds);    ///< the view is to show that time
    void directionWanted();             ///< the next edge that is picked says the run's direction
    void edgeWanted();                  ///< the next edge that is picked becomes a path
    void layWanted(Id path);            ///< on the site body in hand
    void cutWanted(Id run, bool raise); ///< the site body in hand, by a run

private:
    void buildHead(QVBoxLayout*);
    void buildItemSections();
    void buildRunSections();
    void rename();
    void refresh();
    void change(const QString& name, const QString& merge, const std::function<void(RunItem&)>&);

    Store& m_store;
    QLineEdit* m_title;
    QLabel *m_sentence, *m_empty;
    QPushButton* m_emptyButton;
    Section *m_pathSection, *m_partSection;
    struct Sheet {
        Section* section;
        RunSection* content;
        std::shared_ptr<const RunResult> shown{}; ///< what the content was filled with last
    };
    /// Fills a section with the run in hand, unless it shows that already; folded ones are left until they are opened.
    void fill(Sheet&);
    std::vector<Sheet> m_runSections; ///< spacing, facing, places
    QComboBox *m_pathChoice, *m_partChoice;
    QWidget *m_pathRow, *m_partRow;
    PathEditor* m_path;
    Section *m_heapSection, *m_bodySection;
    BodyEditor* m_body;
    HeapEditor* m_heap;
    PartEditor* m_part;
    Selection::Kind m_kind = Selection::Kind::None;
};

} // namespace vicinal
