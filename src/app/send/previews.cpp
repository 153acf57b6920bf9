#include "app/send/previews.h"
#include "app/controls/theme.h"
#include "parts/makers/maker.h"
#include <QPainter>

namespace vicinal {

TemplatePreview::TemplatePreview(QWidget* parent) : QWidget(parent) {
    setObjectName("template.preview");
    setAccessibleName(tr("Preview: the drawing and its pages"));
    setMinimumSize(320, 320);
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Expanding);
}

void TemplatePreview::show(std::shared_ptr<const Template> made) {
    if (!made) {
        m_work.stop();
        m_template = nullptr;
        return update();
    }
    const auto lines = [made](Job& job) {
        QPainterPath out;
        for (const Ink& ink : made->whole.inks)
            for (const Segment& s : ink.pieces) {
                if (job.stop) return out;
                const auto path = Path::make({s}, false);
                if (!path) continue;
                bool first = true;
                for (const Vec3& p : path->polyline(std::max(0.2, path->length() / 400))) {
                    const QPointF at(p.x(), made->whole.height - p.y());
                    first ? out.moveTo(at) : out.lineTo(at);
                    first = false;
                }
            }
        return out;
    };
    m_work.run(lines, [this, made](std::optional<QPainterPath> done) {
        m_template = made;
        m_lines = done.value_or(QPainterPath());
        update();
    });
}

void TemplatePreview::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    p.setPen(QPen(theme::line(), 1));
    p.setBrush(theme::field());
    p.drawRoundedRect(QRectF(rect()).adjusted(0.5, 0.5, -0.5, -0.5), 5, 5);
    if (!m_template) return;
    const Template& t = *m_template;
    const QRectF room = QRectF(rect()).adjusted(14, 14, -14, -14);
    const Vec2 whole = (Vec2(t.whole.width, t.whole.height)).cwiseMax(t.covers);
    const double k = std::min(room.width() / whole.x(), room.height() / whole.y());
    p.translate(room.center().x() - k * whole.x() / 2, room.center().y() + k * whole.y() / 2 - k * t.whole.height);
    p.save();
    p.scale(k, k);
    QPen pen(theme::ink(), 0);
    pen.setCosmetic(true);
    p.setPen(pen);
    p.setBrush(Qt::NoBrush);
    p.drawPath(m_lines);
    p.restore();
    p.setBrush(Qt::NoBrush);
    p.setFont(theme::font(11, QFont::DemiBold));
    for (const Template::Tile& tile : t.tiles) {
        const QRectF r(k * tile.from.x(), k * (t.whole.height - tile.to.y()), k * (tile.to - tile.from).x(),
                       k * (tile.to - tile.from).y());
        p.setPen(QPen(tile.empty ? theme::line() : theme::accent(), 1, tile.empty ? Qt::DotLine : Qt::SolidLine));
        p.drawRect(r);
        if (tile.empty || r.width() < 18) continue;
        p.setPen(theme::accent());
        p.drawText(r.adjusted(4, 2, -4, -2), Qt::AlignTop | Qt::AlignLeft, QString::fromStdString(tile.name));
    }
}

SheetPreview::SheetPreview(const QString& name, QWidget* parent) : QWidget(parent) {
    setObjectName(name);
    setAccessibleName(tr("Preview of a page"));
    setMinimumSize(360, 280);
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Expanding);
}

PagePicture pictureOf(const Sheet& sheet) {
    const Sheet s = expanded(sheet);
    PagePicture out{s.width, s.height, {}, s.labels, {}};
    for (const Ink& ink : s.inks) {
        PagePicture::Way way{{}, ink.pen.width, ink.pen.grey, ink.fill};
        for (const Segment& piece : ink.pieces) {
            const Vec3 from = startOf(piece);
            if (way.lines.isEmpty()) way.lines.moveTo(from.x(), s.height - from.y());
            const auto path = Path::make({piece}, false);
            if (!path) continue;
            for (const Vec3& at : path->polyline(0.1)) way.lines.lineTo(at.x(), s.height - at.y());
        }
        if (ink.closed) way.lines.closeSubpath();
        out.ways.push_back(std::move(way));
    }
    if (s.clip)
        out.clip = QRectF(QPointF(s.clip->first.x(), s.height - s.clip->second.y()),
                          QPointF(s.clip->second.x(), s.height - s.clip->first.y()));
    return out;
}

void SheetPreview::show(std::shared_ptr<const Sheet> sheet) {
    if (!sheet) {
        m_work.stop();
        m_picture.reset();
        return update();
    }
    m_work.run([sheet](Job&) { return pictureOf(*sheet); },
               [this](std::optional<PagePicture> made) {
                   m_picture = std::move(made);
                   update();
               });
}

void SheetPreview::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    p.fillRect(rect(), theme::line());
    if (!m_picture) return;
    const PagePicture& s = *m_picture;
    const double k = std::min((width() - 16) / s.width, (height() - 16) / s.height);
    p.translate((width() - k * s.width) / 2, (height() - k * s.height) / 2);
    p.scale(k, k);
    p.fillRect(QRectF(0, 0, s.width, s.height), Qt::white);
    const auto grey = [](double v) { return QColor::fromRgbF(float(v), float(v), float(v)); };
    if (s.clip) p.setClipRect(*s.clip);
    for (const PagePicture::Way& way : s.ways) {
        p.setPen(QPen(grey(way.grey), std::max(way.width, 0.6 / k)));
        p.setBrush(way.fill ? QBrush(grey(*way.fill)) : QBrush(Qt::NoBrush));
        p.drawPath(way.lines);
    }
    p.setClipping(false);
    for (const Label& l : s.labels) {
        QFont font = theme::font(10, l.bold ? QFont::DemiBold : QFont::Normal);
        font.setPixelSize(100); // drawn large and scaled down: small sizes are rounded
        const double scale = l.height / 0.727 / 100, wide = QFontMetricsF(font).horizontalAdvance(l.text.c_str());
        p.save();
        p.translate(l.at.x(), s.height - l.at.y());
        p.rotate(-l.turn / kDegree);
        p.scale(scale, scale);
        p.setFont(font);
        p.setPen(grey(l.grey));
        p.drawText(QPointF(l.anchor == Anchor::Left     ? 0
                           : l.anchor == Anchor::Middle ? -wide / 2
                                                        : -wide,
                           0),
                   QString::fromStdString(l.text));
        p.restore();
    }
}

ImagePreview::ImagePreview(QWidget* parent) : QWidget(parent) {
    setObjectName("send.image");
    setAccessibleName(tr("Preview of the picture"));
    setMinimumSize(360, 280);
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Expanding);
}

void ImagePreview::show(const QImage& image) {
    m_image = image;
    update();
}

void ImagePreview::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.setRenderHint(QPainter::SmoothPixmapTransform);
    p.fillRect(rect(), theme::line());
    if (m_image.isNull()) return;
    const double k = std::min((width() - 16.0) / m_image.width(), (height() - 16.0) / m_image.height());
    const QRectF at((width() - k * m_image.width()) / 2, (height() - k * m_image.height()) / 2, k * m_image.width(),
                    k * m_image.height());
    if (m_image.hasAlphaChannel()) // squares where nothing is behind
        for (int y = 0; y * 12 < at.height(); ++y)
            for (int x = 0; x * 12 < at.width(); ++x)
                p.fillRect(QRectF(at.x() + 12 * x, at.y() + 12 * y, 12, 12).intersected(at),
                           (x + y) % 2 ? QColor("#f4f3ef") : QColor("#e4e3de"));
    p.drawImage(at, m_image);
}

} // namespace vicinal
