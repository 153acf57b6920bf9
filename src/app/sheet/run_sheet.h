#pragma once
#include "app/state/store.h"
#include <QScrollArea>
#include <functional>
#include <map>

class QComboBox;
class QLabel;
class QLineEdit;
class QPushButton;
class QTableWidget;
class QTimer;

namespace vicinal {

class PartEditor;
class PathEditor;
class Section;
class Segmented;
class ValueField;

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

private:
    void refresh();
    void refreshSpacing(const RunResult&);
    void refreshFits();
    void refreshFacing(const RunResult&);
    void refreshPlaces(const RunResult&);
    QWidget* buildSpacing();
    QWidget* buildFacing();
    QWidget* buildPlaces();
    ValueField* field(const QString& name) const { return m_fields.at(name); }
    ValueField* addField(const QString& name, int kind, const QString& label, const QString& tip,
                         std::function<void(RunItem&, std::optional<double>)> set);
    void change(const QString& name, const QString& merge, const std::function<void(RunItem&)>&);
    void showFits(const Result<std::vector<Fit>>&);
    void takeFit(int row);

    Store& m_store;
    std::shared_ptr<const RunResult> m_fitsOf; ///< whose fits are shown, or being solved behind
    QLineEdit* m_title;
    QLabel *m_sentence, *m_empty;
    QPushButton* m_emptyButton;
    Section *m_pathSection, *m_partSection, *m_spacingSection, *m_facingSection, *m_placesSection;
    QComboBox *m_pathChoice, *m_partChoice;
    QWidget *m_pathRow, *m_partRow;
    PathEditor* m_path;
    PartEditor* m_part;
    Segmented *m_rule, *m_measure, *m_leftOver, *m_ends, *m_nose, *m_crown, *m_corner;
    QWidget *m_pitchRow, *m_leftOverRow, *m_countRow, *m_endsRow, *m_aboutRow, *m_measureRow, *m_insetRow, *m_slideRow,
        *m_crownRow, *m_cornerRow;
    QTableWidget* m_fits;
    QLabel *m_spacingError, *m_leftOut, *m_placeFacts;
    QPushButton *m_toggle, *m_bringBack, *m_forget;
    std::map<QString, ValueField*> m_fields;
    QTimer* m_fitsTimer;
    Selection::Kind m_kind = Selection::Kind::None;
};

} // namespace vicinal
