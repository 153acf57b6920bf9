// Over what is cut, and in the corners: axes, what is in hand, what is wrong with it.
#include "app/controls/format.h"
#include "app/controls/theme.h"
#include "app/view/overlays/overlay.h"
#include "app/view/toolbox.h"
#include "model/document/body_item.h"
#include "model/document/path_item.h"
#include "model/document/run_item.h"
#include "model/recipes/cut_shape.h"
#include "parts/cuts/webs.h"
#include <QPainter>
#include <cmath>

namespace vicinal {
namespace {

/// The narrowest webs of what is cut, each where it is; the least with its width.
class WebsOverlay : public ViewOverlay {
public:
    using ViewOverlay::ViewOverlay;
    void paint(QPainter& p) const override {
        const auto body = m_store.currentBody();
        if (!body) return;
        paint(p, *body);
    }

private:
    void paint(QPainter& p, const BodyResult& body) const {
        if (!body.cut || !body.ground || body.cut->webs.empty()) return;
        const auto* shape = std::get_if<CutBy>(&body.item->shape);
        const double least = shape ? shape->least : 0;
        constexpr size_t kShown = 12;
        const auto& webs = body.cut->webs;
        for (size_t i = std::min(webs.size(), least > 0 ? size_t(400) : kShown); i-- > 0;) {
            const Web& w = webs[i];
            const bool thin = least > 0 && w.width < least;
            if (!thin && i >= kShown) continue;
            const auto at = [&](const Vec2& q) {
                return m_camera.project(body.ground->turn() * body.cut->at(q) + body.ground->origin());
            };
            const auto from = at(w.from), to = at(w.to);
            if (!from || !to) continue;
            const QColor colour = thin ? theme::ochre() : theme::accent();
            const QPointF a = pixel(*from), b = pixel(*to);
            p.setPen(QPen(colour, thin ? 3 : 1.6));
            p.drawLine(a, b);
            p.setBrush(colour);
            p.setPen(Qt::NoPen);
            p.drawEllipse(a, 2, 2);
            p.drawEllipse(b, 2, 2);
            if (i == 0)
                pill(p, (a + b) / 2 + QPointF(12, -22),
                     tr("least web %1").arg(lengthText(w.width, m_store.document().unit)), colour, theme::ink());
        }
    }
};

/// Which way x, y and z are.
class AxesOverlay : public ViewOverlay {
public:
    using ViewOverlay::ViewOverlay;
    void paint(QPainter& p) const override {
        const QPointF origin(46, m_view.height() - 44);
        const std::pair<Vec3, QColor> axes[] = {
            {Vec3::UnitX(), theme::brick()}, {Vec3::UnitY(), theme::moss()}, {Vec3::UnitZ(), QColor("#4a62ad")}};
        const char* names[] = {"x", "y", "z"};
        p.setFont(theme::font(12));
        for (int i = 0; i < 3; ++i) {
            const Vec3& axis = axes[i].first; // as the shifted lens shows it
            const QPointF d(axis.dot(m_camera.right()),
                            std::tan(m_camera.shift()) * axis.dot(m_camera.back()) - axis.dot(m_camera.up()));
            if (std::hypot(d.x(), d.y()) < 0.08) continue;
            p.setPen(QPen(axes[i].second, 1.6));
            p.drawLine(origin, origin + d * 28);
            p.drawText(QRectF(origin + d * 37 - QPointF(8, 8), QSizeF(16, 16)), Qt::AlignCenter, names[i]);
        }
    }
};

/// What is in hand, in a line; and what is wrong with it.
class InfoOverlay : public ViewOverlay {
public:
    using ViewOverlay::ViewOverlay;
    void paint(QPainter& p) const override {
        const QString info = text();
        if (m_view.tools().edits() && !info.isEmpty()) pill(p, {12, 10}, info, theme::line(), theme::ink());
        if (m_view.tools().drawing()) return;
        const auto run = m_store.currentRun();
        const auto path = m_store.currentPath();
        if (run && run->problem) {
            wrong(p, *run->problem);
            if (run->placed)
                pill(p, {12, 73}, tr("Shown in grey: the last result that worked"), theme::line(), theme::muted());
        } else if (path && path->problem) {
            wrong(p, *path->problem);
        }
    }

private:
    void wrong(QPainter& p, const Problem& problem) const {
        pill(p, {12, 42}, QString("\u2715  ") + m_store.say(problem.text), theme::brick(), theme::brick());
    }
    QString text() const {
        const Unit unit = m_store.document().unit;
        if (const auto run = m_store.currentRun()) {
            if (!run->path || !run->placed || run->placed->count() == 0) return run->item->name.c_str();
            const auto& s = run->placed->stations();
            const auto [lo, hi] = std::minmax_element(s.begin(), s.end());
            const Unit u = unit == Unit::Millimetre ? Unit::Metre : unit;
            const auto number = [&](double mm) { return QString::number(mm / millimetresPer(u), 'f', 3); };
            return tr("%1 \u00b7 from %2 to %3 %4")
                .arg(run->path->item->name.c_str(), number(*lo), number(*hi), nameOf(u));
        }
        if (const auto path = m_store.currentPath(); path && path->path)
            return tr("%1 \u00b7 %2 \u00b7 %3")
                .arg(path->item->name.c_str(), longLengthText(path->path->length(), unit),
                     path->path->closed() ? tr("closed") : tr("open"));
        return {};
    }
};

} // namespace

OverlayPtr webs(const Viewport& view) { return std::make_unique<WebsOverlay>(view); }
OverlayPtr axes(const Viewport& view) { return std::make_unique<AxesOverlay>(view); }
OverlayPtr infoLine(const Viewport& view) { return std::make_unique<InfoOverlay>(view); }

} // namespace vicinal
