#pragma once
#include "exchange/in/bring_in.h"
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

/// Paths from a file. Asks what needs asking: its unit (never assumed), how ends are joined, which paths are wanted;
/// shows them in plan.
class BringInDialog : public QDialog {
    Q_OBJECT
public:
    /// A file as it was read, or why it cannot be used at all.
    struct Loaded {
        QString file, problem;
        bool csv = false; ///< points instead of curves
        std::optional<CurveFile> curves;
        std::vector<Vec3> points;
        bool cancelled = false;
    };
    /// Reads in the background, with progress and a way to cancel when it takes long.
    static Loaded load(const QString& file, QWidget* parent);
    /// Result of exec() when the file is to be brought in as a part instead.
    static constexpr int kAsPart = 2;

    /// `mayBePart`: offers that.
    BringInDialog(Loaded, Unit shownIn, bool mayBePart, QWidget* parent = nullptr);

    /// What was chosen, after accept().
    std::vector<PathItem> paths() const;

private:
    void connectAll();
    void read();
    void refresh();
    double unit() const; ///< mm, 0 while it is not chosen
    bool shown(int strand) const;

    QString m_file;
    bool m_csv;
    Unit m_shownIn;
    std::optional<CurveFile> m_curves;
    std::vector<Vec3> m_points;
    std::vector<Strand> m_strands;
    std::vector<std::vector<Vec3>> m_lines; ///< of the strands, for the picture
    QComboBox *m_unit, *m_layer;
    QWidget* m_layerRow;
    ValueField* m_join;
    QListWidget* m_list;
    QCheckBox *m_smooth, *m_closed;
    QLabel *m_facts, *m_error;
    PlanPreview* m_preview;
    QPushButton* m_ok;
};

} // namespace vicinal
