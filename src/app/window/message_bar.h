#pragma once
#include <QWidget>
#include <functional>

class QLabel;
class QPushButton;

namespace vicinal {

/// A message above the view until it is closed or replaced.
class MessageBar : public QWidget {
    Q_OBJECT
public:
    MessageBar();
    void show(const QString& text, bool wrong);
    /// The same with a button that does something about it, and closes the message.
    void offer(const QString& text, bool wrong, const QString& button, std::function<void()> does);
    QString shown() const; ///< nothing while it is hidden

private:
    QLabel* m_text;
    QPushButton* m_do;
    std::function<void()> m_does;
};

} // namespace vicinal
