#pragma once
#include "app/state/latest.h"
#include "app/state/store.h"
#include "exchange/delivery/make.h"
#include <QDateTime>
#include <QDialog>
#include <array>
#include <functional>
#include <map>

class QButtonGroup;
class QCheckBox;
class QLabel;
class QLineEdit;
class QListWidget;
class QListWidgetItem;
class QPushButton;
class QStackedWidget;
class QTableView;
class QTableWidget;
class QTimer;
class QVBoxLayout;

namespace vicinal {

class ImagePreview;
class Segmented;
class SheetPreview;
class TemplatePreview;
class ValueRows;
class ListModel;

inline constexpr int kItemId = Qt::UserRole; ///< of a row of its lists: the id of what it stands for

/// When a delivery was made in this session, and from what.
struct MadeDelivery {
    QDateTime when;
    std::shared_ptr<const Evaluation> from;
    Delivery as;
};
using MadeDeliveries = std::map<Id, MadeDelivery>;
/// True when what it would show has changed since.
bool changedSince(const MadeDelivery&, const Delivery&, const Evaluation&);

/// Sending out: left what goes and the deliveries that are kept, in the middle as what, right how it will look.
class SendWindow : public QDialog {
    Q_OBJECT
public:
    /// `picture`: what a picture order shows, at most so many pixels wide and high.
    using Picture = std::function<QImage(const Delivery&, QSize)>;
    SendWindow(Store&, MadeDeliveries&, Picture, QWidget* parent);
    ~SendWindow() override;

    /// Another kind of result, by its place in SendOrder.
    void setKind(int);
    /// Only these go; none: everything.
    void setWhat(const std::vector<Id>&);
    /// Where pictures and oblique views are seen from at first, rad.
    void lookFrom(double heading, double pitch);
    /// The plane of a template: out of the face that was picked.
    void setFace(const Vec3& normal);
    const Delivery& delivery() const { return m_now; }
    const std::shared_ptr<const Ready>& ready() const { return m_ready; }

signals:
    void writeWanted();   ///< the delivery as it is shown
    void makeAllWanted(); ///< every one that is kept
    void faceWanted();    ///< a face of the view is to be the plane of the template
    void copyWanted(const QImage&);

public slots:
    void refreshDeliveries();

private:
    using Prepared = Result<std::shared_ptr<const Ready>>;
    QWidget* buildLeft();
    QWidget* buildMiddle();
    QWidget* buildRight();
    QWidget* buildFoot();
    void fillWhat();
    void takeWhat(QListWidgetItem*);
    void load(Id);
    void keep(bool asNew);
    void showOrder(const std::optional<Problem>&);
    void changed(); ///< anything that is asked for
    void work();
    void shown(const Prepared&);
    void showPreview();
    void turn(int by);
    void takeFields();
    void showFields();

    Store& m_store;
    MadeDeliveries& m_made;
    Picture m_picture;
    Delivery m_now;
    std::array<std::pair<SendOrder, std::string>, std::variant_size_v<SendOrder>> m_kept; ///< of the kinds not shown
    std::shared_ptr<const Ready> m_ready;
    Latest<Prepared> m_work{Lane::Previews, this};
    int m_page = 0;
    bool m_filling = false;

    QCheckBox* m_everything;
    QListWidget *m_what, *m_deliveries;
    QPushButton *m_makeAll, *m_remove;
    QLineEdit *m_name, *m_folder;
    QButtonGroup* m_kinds;
    QWidget* m_formatRow = nullptr;
    QVBoxLayout* m_formatPlace;
    Segmented* m_formats = nullptr;
    ValueRows* m_rows;
    QPushButton* m_face;
    QTableWidget* m_fields;
    QWidget* m_fieldsBox;
    QStackedWidget* m_stack;
    TemplatePreview* m_template;
    SheetPreview* m_sheet;
    QTableView* m_table;
    ListModel* m_list;
    ImagePreview* m_image;
    QLabel *m_size, *m_pageOf, *m_says;
    QPushButton *m_before, *m_next, *m_keep, *m_keepNew, *m_write, *m_copy;
    QTimer* m_soon;
};

} // namespace vicinal
