// Over loops of wheels, and over what gives way.
#include "app/controls/format.h"
#include "app/controls/theme.h"
#include "app/sheet/run/spacing/gives_section.h"
#include "app/view/overlays/overlay.h"
#include "model/document/path_item.h"
#include "model/evaluate/bodies/wheel_bodies.h"
#include "model/evaluate/giving.h"
#include <QPainter>
#include <cmath>

namespace vicinal {
namespace {

/// Wheels of a loop: their rims and names; those that are wrong stand out.
class WheelsOverlay : public OverPath {
public:
    using OverPath::OverPath;

private:
    void over(QPainter& p, const PathResult& path) const override {
        const auto* recipe = std::get_if<ShapeRecipe>(&path.recipe()); // where they are now
        const auto* shape = recipe ? std::get_if<WheelShape>(&recipe->shape) : nullptr;
        if (!shape) return;
        const auto circles = circlesOf(*shape);
        p.setFont(theme::font(11, QFont::DemiBold));
        for (size_t i = 0; i < circles.size(); ++i) {
            const bool wrong = path.problem && path.problem->field == "wheel " + std::to_string(i + 1);
            QPolygonF rim;
            for (int k = 0; k < 96; ++k) {
                const double a = k * kPi / 48;
                if (const auto at = m_camera.project(
                        toSpace(*recipe, circles[i].centre + circles[i].radius * Vec2(std::cos(a), std::sin(a)))))
                    rim << pixel(*at);
            }
            p.setPen(QPen(wrong ? theme::brick() : theme::muted(), wrong ? 2 : 1));
            const bool body =
                std::any_of(path.wheels.begin(), path.wheels.end(), [&](const WheelPlaced& w) { return w.wheel == i; });
            p.setBrush(body ? QBrush(Qt::NoBrush) : QBrush(QColor(214, 210, 197, 150)));
            if (!body || wrong) p.drawPolygon(rim);
            const auto middle = m_camera.project(toSpace(*recipe, circles[i].centre));
            if (!middle) continue;
            QString name = shape->wheels[i].name.c_str();
            if (shape->wheels[i].teeth > 0) name += QString(" %1").arg(shape->wheels[i].teeth);
            p.setPen(wrong ? theme::brick() : theme::ink());
            p.drawText(QRectF(pixel(*middle) + QPointF(-60, 8), QSizeF(120, 18)), Qt::AlignCenter, name);
        }
    }
};

/// How deep the strand that is not tight hangs, below the straight it would be.
class HangingOverlay : public OverPath {
public:
    using OverPath::OverPath;

private:
    void over(QPainter& p, const PathResult& path) const override {
        if (!path.loop || !path.loop->hangs || path.problem) return;
        const auto& shape = std::get<ShapeRecipe>(path.recipe());
        const auto from = m_camera.project(toSpace(shape, path.loop->hangs->above));
        const auto to = m_camera.project(toSpace(shape, path.loop->hangs->deepest));
        if (!from || !to) return;
        p.setPen(QPen(theme::accent(), 1.2, Qt::DashLine));
        p.drawLine(pixel(*from), pixel(*to));
        pill(p, pixel(*to) + QPointF(12, 8),
             tr("sag %1").arg(lengthText(path.loop->hangs->sag, m_store.document().unit)), theme::line(), theme::ink());
    }
};

/// How far what gives way went: from where it stands in the document to where it came out.
class SolvedOverlay : public OverPath {
public:
    using OverPath::OverPath;

private:
    void over(QPainter& p, const PathResult& path) const override {
        if (!path.gave) return;
        const SolvedValue& gave = *path.gave;
        const QString text = gaveText(gave, m_store.document().unit);
        const auto from = gave.from ? m_camera.project(*gave.from) : std::nullopt;
        const auto to = gave.to ? m_camera.project(*gave.to) : std::nullopt;
        if (!from || !to) return pill(p, {12, 42}, text, theme::accent(), theme::accent());
        const QPointF a = pixel(*from), b = pixel(*to);
        const QPointF way = b - a;
        const double length = std::hypot(way.x(), way.y());
        p.setPen(QPen(theme::accent(), 1.4, Qt::DashLine));
        if (length > 1) { // the line it moves on, a little beyond both ends
            const QPointF d = way / length;
            p.drawLine(a - 24 * d, b + 24 * d);
            p.setPen(Qt::NoPen);
            p.setBrush(theme::accent());
            const QPointF side(-d.y(), d.x());
            p.drawPolygon(QPolygonF{b + 8 * d, b - 2 * d + 5 * side, b - 2 * d - 5 * side});
        }
        p.setPen(QPen(theme::accent(), 1.4));
        p.setBrush(Qt::NoBrush);
        p.drawEllipse(a, 3, 3);
        pill(p, b + QPointF(14, -40), text, theme::accent(), theme::accent());
    }
};

} // namespace

OverlayPtr wheelRims(const Viewport& view) { return std::make_unique<WheelsOverlay>(view); }
OverlayPtr hangingStrand(const Viewport& view) { return std::make_unique<HangingOverlay>(view); }
OverlayPtr solvedWay(const Viewport& view) { return std::make_unique<SolvedOverlay>(view); }

} // namespace vicinal
