#include "app/render/part_picture.h"
#include <algorithm>
#include <cmath>

namespace vicinal {
namespace {

constexpr int kFiner = 3; // drawn three times as large, then made smaller: smooth borders

struct Canvas {
    int w, h;
    std::vector<float> depth;
    QImage image;
    Canvas(int width, int height)
        : w(width), h(height), depth(size_t(width) * size_t(height), -1e30f),
          image(width, height, QImage::Format_ARGB32) {
        image.fill(Qt::transparent);
    }
    void put(int x, int y, float z, QRgb c) {
        if (x < 0 || y < 0 || x >= w || y >= h) return;
        float& d = depth[size_t(y) * size_t(w) + size_t(x)];
        if (z <= d) return;
        d = z;
        reinterpret_cast<QRgb*>(image.scanLine(y))[x] = c;
    }
};

QRgb shaded(const QColor& tone, Vec3 n) {
    if (n.z() < 0) n = -n; // sheets are lit from both sides
    const Vec3 sun = Vec3(-0.45, 0.7, 0.55).normalized();
    const double k = 0.58 + 0.2 * (0.5 + 0.5 * n.y()) + 0.34 * std::max(0.0, n.dot(sun));
    const auto part = [&](int v) { return int(std::clamp(v * k, 0.0, 255.0)); };
    return qRgb(part(tone.red()), part(tone.green()), part(tone.blue()));
}

void fill(Canvas& c, const std::array<Vec3, 3>& p, const std::array<Vec3, 3>& n, const QColor& tone) {
    const double area = (p[1].x() - p[0].x()) * (p[2].y() - p[0].y()) - (p[2].x() - p[0].x()) * (p[1].y() - p[0].y());
    if (!(std::abs(area) > tolerance::rounding)) return;
    const auto [x0, x1] = std::minmax({p[0].x(), p[1].x(), p[2].x()});
    const auto [y0, y1] = std::minmax({p[0].y(), p[1].y(), p[2].y()});
    const bool flat = n[0] == n[1] && n[0] == n[2];
    const QRgb one = flat ? shaded(tone, n[0]) : 0;
    for (int y = std::max(0, int(std::floor(y0))); y <= std::min(c.h - 1, int(std::ceil(y1))); ++y)
        for (int x = std::max(0, int(std::floor(x0))); x <= std::min(c.w - 1, int(std::ceil(x1))); ++x) {
            const double px = x + 0.5, py = y + 0.5;
            const double a = ((p[1].x() - px) * (p[2].y() - py) - (p[2].x() - px) * (p[1].y() - py)) / area;
            const double b = ((p[2].x() - px) * (p[0].y() - py) - (p[0].x() - px) * (p[2].y() - py)) / area;
            const double g = 1 - a - b;
            if (a < -tolerance::rounding || b < -tolerance::rounding || g < -tolerance::rounding) continue;
            c.put(x, y, float(a * p[0].z() + b * p[1].z() + g * p[2].z()),
                  flat ? one : shaded(tone, (a * n[0] + b * n[1] + g * n[2]).normalized()));
        }
}

void line(Canvas& c, const Vec3& a, const Vec3& b, QRgb colour, double nearer) {
    const int steps = std::min(4000, int(std::max(std::abs(b.x() - a.x()), std::abs(b.y() - a.y()))) + 1);
    for (int i = 0; i <= steps; ++i) {
        const Vec3 p = a + (b - a) * i / steps;
        for (int dx = 0; dx < 2; ++dx)
            for (int dy = 0; dy < 2; ++dy) c.put(int(p.x()) + dx, int(p.y()) + dy, float(p.z() + nearer), colour);
    }
}

} // namespace

QImage drawPart(const Mesh& mesh, const PictureView& view, const QSize& pixels, const QColor& tone) {
    Canvas c(pixels.width() * kFiner, pixels.height() * kFiner);
    const double k = kFiner / view.millimetresPerPixel;
    std::vector<Vec3> at(mesh.points.size());
    for (size_t i = 0; i < at.size(); ++i) {
        const Vec3 p = view.turn * (mesh.points[i] - view.centre);
        at[i] = Vec3(c.w / 2.0 + p.x() * k, c.h / 2.0 - p.y() * k, p.z() * k);
    }
    const bool fine = mesh.triangles.size() < 20'000;
    const auto smooth = fine ? cornerNormals(mesh) : std::vector<Vec3>();
    for (size_t t = 0; t < mesh.triangles.size(); ++t) {
        const auto& i = mesh.triangles[t];
        std::array<Vec3, 3> n;
        if (fine)
            for (size_t j = 0; j < 3; ++j) n[j] = view.turn * smooth[3 * t + j];
        else
            n.fill(view.turn *
                   (mesh.points[i[1]] - mesh.points[i[0]]).cross(mesh.points[i[2]] - mesh.points[i[0]]).normalized());
        fill(c, {at[i[0]], at[i[1]], at[i[2]]}, n, tone);
    }
    if (fine) {
        const QRgb dark = tone.darker(190).rgb();
        for (const auto& e : featureEdges(mesh)) line(c, at[e[0]], at[e[1]], dark, 1.5);
    }
    return c.image.scaled(pixels, Qt::IgnoreAspectRatio, Qt::SmoothTransformation);
}

QImage partPicture(const Mesh& mesh, const Seat& seat, const QSize& pixels, const QColor& tone) {
    if (defectOf(seat)) return {};
    const double yaw = 35 * kDegree, pitch = 24 * kDegree; // of the eye: to the right of the nose, above
    const Vec3 back(std::cos(pitch) * std::cos(-yaw), std::cos(pitch) * std::sin(-yaw), std::sin(pitch));
    const Vec3 right = Vec3::UnitZ().cross(back).normalized(), up = back.cross(right);
    PictureView view;
    view.turn.row(0) = right;
    view.turn.row(1) = up;
    view.turn.row(2) = back;
    view.turn = view.turn * seatRotation(seat);
    Box3 box;
    for (const Vec3& p : mesh.points) box.extend(view.turn * p);
    Vec3 middle = box.center();
    double size = std::max(box.sizes().x() / pixels.width(), box.sizes().y() / pixels.height());
    const double thin = std::min(box.sizes().x() / pixels.width(), box.sizes().y() / pixels.height());
    if (thin < size / 9) { // cut off: the upper or the left end is shown
        const double shown = std::max(thin * 9, size / 8);
        if (box.sizes().y() * pixels.width() > box.sizes().x() * pixels.height())
            middle.y() = box.max().y() - shown * pixels.height() * 0.46;
        else
            middle.x() = box.min().x() + shown * pixels.width() * 0.46;
        size = shown;
    }
    view.centre = view.turn.transpose() * middle;
    view.millimetresPerPixel = std::max(size, tolerance::fine) * 1.08;
    return drawPart(mesh, view, pixels, tone);
}

QImage PartPictures::of(const std::shared_ptr<const Mesh>& mesh, const Seat& seat, const QSize& size,
                        const QColor& tone) {
    if (!mesh) return {};
    const auto it = m_kept.find(mesh.get());
    if (it != m_kept.end() && it->second.mesh.lock() == mesh && it->second.seat == seat &&
        it->second.image.size() == size)
        return it->second.image;
    std::erase_if(m_kept, [](const auto& k) { return k.second.mesh.expired(); });
    const QImage image = partPicture(*mesh, seat, size, tone);
    m_kept[mesh.get()] = {mesh, seat, image};
    return image;
}

} // namespace vicinal
