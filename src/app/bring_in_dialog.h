#pragma once
#include "exchange/bring_in.h"
#include <QDialog>
#include <optional>

class QCheckBox;
class QComboBox;
class QLabel;
class QListWidget;
class QPushButton;

namespace vicinal {

class PlanPreview;
class ValueField;

/// Asks what a file needs asking for: its unit (never assumed), how ends are joined, which paths are wanted; shows them
/// in plan.
class BringInDialog : public QDialog {
    Q_OBJECT
public:
    /// Problem text when the file cannot be used at all.
    static QString problemOf(const QString& file);
    BringInDialog(const QString& file, Unit shownIn, QWidget* parent = nullptr);

    /// What was chosen, after accept().
    std::vector<PathItem> paths() const;
    std::optional<PartItem> part() const;

private:
    void read();
    void refresh();

    QString m_file, m_kind;
    Unit m_shownIn;
    std::optional<CurveFile> m_curves;
    std::vector<Vec3> m_points;
    std::vector<Strand> m_strands;
    std::optional<PartItem> m_part;
    QComboBox* m_unit;
    ValueField* m_join;
    QListWidget* m_list;
    QCheckBox *m_smooth, *m_closed;
    QLabel *m_facts, *m_error;
    PlanPreview* m_preview;
    QPushButton* m_ok;
};

} // namespace vicinal
