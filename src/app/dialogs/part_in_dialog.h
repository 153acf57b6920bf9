#pragma once
#include "exchange/in/bring_in.h"
#include "model/document/part_item.h"
#include <QDialog>
#include <optional>

class QCheckBox;
class QComboBox;
class QLabel;
class QListWidget;
class QPushButton;
class QVBoxLayout;

namespace vicinal {

class Segmented;
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
    /// Asks besides whether it is a part or a site body.
    void offerSite(bool body);
    bool asBody() const;
    bool inView() const; ///< in the middle of what is seen; else where it lies in the file
    /// The chosen bodies one by one, when they were wanted so; else empty.
    const std::vector<PartItem>& eachBody() const { return m_each; }

private:
    void refresh();
    std::vector<int> chosen() const;
    Box3 chosenBox() const; ///< in file units

    PartFile m_file;
    QString m_name;
    Unit m_shownIn;
    std::vector<Box3> m_boxes; ///< of the bodies
    std::optional<PartItem> m_part;
    std::vector<PartItem> m_each;
    Segmented *m_as = nullptr, *m_where = nullptr;
    QCheckBox* m_eachBox = nullptr;
    QVBoxLayout* m_top = nullptr;
    QComboBox* m_unit;
    QListWidget* m_bodies;
    ValueField* m_thickness;
    QLabel *m_facts, *m_size, *m_error;
    SizePreview* m_preview;
    QPushButton* m_ok;
};

} // namespace vicinal
