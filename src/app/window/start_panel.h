#pragma once
#include <QWidget>

class QBoxLayout;
class QImage;
class QLabel;

namespace vicinal {

/// What stands over the view while a document is empty: three ways to start, and the documents of late with their
/// pictures.
class StartPanel : public QWidget {
    Q_OBJECT
public:
    explicit StartPanel(QWidget* view);
    /// Keeps a picture of a document for the list, beside the settings. On any thread.
    static void keepPicture(const QString& file, const QImage&);
    /// The demo document that comes with the program; empty when it is not there.
    static QString demoFile();

signals:
    void drawWanted();
    void bringInWanted();
    void demoWanted();
    void openWanted(const QString& file);

protected:
    bool eventFilter(QObject*, QEvent*) override;
    void showEvent(QShowEvent*) override;

private:
    /// Documents of late, newest first; those that are gone are left out.
    void showRecent(const QStringList& files);
    static QString pictureOf(const QString& file);
    void place();
    QBoxLayout* m_recent;
    QLabel* m_recentTitle;
};

} // namespace vicinal
