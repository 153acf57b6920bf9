#pragma once
#include "base/quantity.h"
#include "model/evaluate/motion/moving.h"
#include <QWidget>

namespace vicinal {

/// What a sweep found, over the way: how a closed chain closes, else how far joints or bogies turn.
class SweepGraph : public QWidget {
public:
    SweepGraph(const QString& name, QWidget* parent = nullptr);
    void show(std::vector<SweepStep>, Unit);
    void clear();
    const std::vector<SweepStep>& steps() const { return m_steps; }
    /// The step that is worst; null when nothing was swept.
    const SweepStep* worst() const;
    /// What that is, in words.
    QString says() const;
    QSize sizeHint() const override { return {280, 96}; }

protected:
    void paintEvent(QPaintEvent*) override;

private:
    double valueOf(const SweepStep&) const;
    QString text(double value) const;

    enum class Of { Closing, Turn, Swing } m_of = Of::Turn;
    std::vector<SweepStep> m_steps;
    Unit m_unit = Unit::Millimetre;
};

} // namespace vicinal
