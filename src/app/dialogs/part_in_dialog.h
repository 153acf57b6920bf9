#pragma once
#include "exchange/in/bring_in.h"
#include <QDialog>
#include <optional>

class QComboBox;
class QLabel;
class QListWidget;
class QPushButton;

namespace vicinal {

class SizePreview;
class ValueField;

/// A part from a file: asks its unit where the file does not say it, which of its bodies are wanted, how thick an
/// outline is; shows its size beside a person.
class PartInDialog : public QDialog {
    Q_OBJECT
public:
    /// Result of exec() when the file is to be brought in as paths instead.
    static constexpr int kAsPaths = 2;

    /// `mayBePaths`: offers that.
    PartInDialog(PartFile, const QString& file, Unit shownIn, bool mayBePaths, QWidget* parent = nullptr);
    /// What was chosen, after accept().
    const std::optional<PartItem>& part() const { return m_part; }
    void accept() override;

private:
    void refresh();
    std::vector<int> chosen() const;
    Box3 chosenBox() const; ///< in file units

    PartFile m_file;
    QString m_name;
    Unit m_shownIn;
    std::vector<Box3> m_boxes; ///< of the bodies
    std::optional<PartItem> m_part;
    QComboBox* m_unit;
    QListWidget* m_bodies;
    ValueField* m_thickness;
    QLabel *m_facts, *m_size, *m_error;
    SizePreview* m_preview;
    QPushButton* m_ok;
};

} // namespace vicinal
