#pragma once
#include <QWidget>

class QLabel;

namespace vicinal {

/// A message above the view until it is closed or replaced.
class MessageBar : public QWidget {
    Q_OBJECT
public:
    MessageBar();
    void show(const QString& text, bool wrong);
    QString shown() const; ///< nothing while it is hidden

private:
    QLabel* m_text;
};

} // namespace vicinal
