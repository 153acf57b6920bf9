// PDF by cairo: vectors, embedded font, exact page boxes.
#include "base/text.h"
#include "exchange/sheet/fonts.h"
#include "exchange/sheet/writers.h"
#include "geometry/curves/edit.h"
#include <cairo-ft.h>
#include <cairo-pdf.h>
#include <cmath>
#include <ft2build.h>
#include FT_FREETYPE_H

namespace vicinal {
namespace {

constexpr double kPoint = 72 / 25.4; ///< points a millimetre

/// The shipped font in both its weights. Cairo may keep a face beyond the file it was made for: it lets go of the
/// library's own face, and that of the library, when it does.
class Fonts {
public:
    Fonts() {
        for (int bold = 0; bold < 2; ++bold) {
            const auto [bytes, size] = fontBytes(bold);
            auto* held = new Held;
            FT_Init_FreeType(&held->library);
            FT_New_Memory_Face(held->library, bytes, FT_Long(size), 0, &held->face);
            m_faces[bold] = held->face;
            m_fonts[bold] = cairo_ft_font_face_create_for_ft_face(held->face, 0);
            static const cairo_user_data_key_t kHeld{};
            cairo_font_face_set_user_data(m_fonts[bold], &kHeld, held, [](void* p) { delete static_cast<Held*>(p); });
        }
    }
    ~Fonts() {
        for (auto* f : m_fonts) cairo_font_face_destroy(f);
    }
    Fonts(const Fonts&) = delete;
    Fonts& operator=(const Fonts&) = delete;

    cairo_font_face_t* font(bool bold) const { return m_fonts[bold]; }
    /// Size at which capitals are so high.
    double sizeFor(double capitals) const {
        return capitals / 0.727; // of the face: its capitals are 0.727 of its size
    }
    /// The first letter that the font has not; nothing when it has all.
    std::optional<std::string> missing(const std::string& utf8) const {
        for (size_t i = 0; i < utf8.size();) {
            const auto lead = static_cast<unsigned char>(utf8[i]);
            const size_t n = 1 + size_t(lead >= 0x80) + size_t(lead >= 0xe0) + size_t(lead >= 0xf0);
            unsigned long code = n == 1 ? lead : lead & (0xffu >> (n + 1));
            for (size_t k = 1; k < n && i + k < utf8.size(); ++k)
                code = code << 6 | (static_cast<unsigned char>(utf8[i + k]) & 0x3f);
            if (code >= 0x20 && FT_Get_Char_Index(m_faces[0], code) == 0) return utf8.substr(i, n);
            i += n;
        }
        return std::nullopt;
    }

private:
    struct Held {
        FT_Library library = nullptr;
        FT_Face face = nullptr;
        ~Held() {
            FT_Done_Face(face);
            FT_Done_FreeType(library);
        }
    };
    FT_Face m_faces[2] = {nullptr, nullptr};
    cairo_font_face_t* m_fonts[2] = {nullptr, nullptr};
};

cairo_status_t collect(void* to, const unsigned char* data, unsigned length) {
    static_cast<std::string*>(to)->append(reinterpret_cast<const char*>(data), length);
    return CAIRO_STATUS_SUCCESS;
}

void follow(cairo_t* c, const Segment& s) {
    const auto to = [&](const Vec3& p) { cairo_line_to(c, p.x(), p.y()); };
    if (const auto* l = std::get_if<Line>(&s)) return to(l->b);
    const auto curve = [&](const Bezier& b) {
        cairo_curve_to(c, b.p[1].x(), b.p[1].y(), b.p[2].x(), b.p[2].y(), b.p[3].x(), b.p[3].y());
    };
    if (const auto* a = std::get_if<Arc>(&s)) { // in pieces of an eighth: off by 5e-8 of the radius
        const int n = std::max(1, int(std::ceil(std::abs(a->sweep) / (kPi / 4) - tolerance::rounding)));
        const double step = a->sweep / n, k = 4.0 / 3 * std::tan(step / 4) * a->radius;
        for (int i = 0; i < n; ++i) {
            const auto at = [&](double t) {
                return std::pair<Vec3, Vec3>(a->centre + a->radius * (std::cos(t) * a->xAxis + std::sin(t) * a->yAxis),
                                             -std::sin(t) * a->xAxis + std::cos(t) * a->yAxis);
            };
            const auto [p, d] = at(step * i);
            const auto [q, e] = at(step * (i + 1));
            curve(Bezier{{p, p + k * d, q - k * e, q}});
        }
        return;
    }
    if (const auto* b = std::get_if<Bezier>(&s)) return curve(*b);
    for (const Segment& b : cubicsNear(s, 1e-4)) curve(std::get<Bezier>(b));
}

} // namespace

Result<std::string> pdfOf(const std::vector<Sheet>& sheets, const std::string& title) {
    if (sheets.empty()) return Problem{"There is no page to write.", ""};
    const Fonts fonts;
    for (const Sheet& s : sheets)
        for (const Label& l : s.labels)
            if (const auto letter = fonts.missing(l.text))
                return Problem{"\"" + text::quoted(l.text) + "\": the font has no sign for \"" + *letter +
                                   "\". Use Latin letters in this name.",
                               "name"};
    std::string bytes;
    cairo_surface_t* surface =
        cairo_pdf_surface_create_for_stream(collect, &bytes, sheets[0].width * kPoint, sheets[0].height * kPoint);
    cairo_pdf_surface_set_metadata(surface, CAIRO_PDF_METADATA_TITLE, title.c_str());
    cairo_pdf_surface_set_metadata(surface, CAIRO_PDF_METADATA_CREATOR, "Vicinal");
    cairo_t* c = cairo_create(surface);
    cairo_set_line_cap(c, CAIRO_LINE_CAP_BUTT);
    cairo_set_line_join(c, CAIRO_LINE_JOIN_ROUND);
    for (const Sheet& sheet : sheets) {
        const Sheet s = expanded(sheet);
        cairo_pdf_surface_set_size(surface, s.width * kPoint, s.height * kPoint);
        cairo_pdf_surface_set_page_label(surface, s.name.c_str());
        cairo_save(c);
        cairo_translate(c, 0, s.height * kPoint);
        cairo_scale(c, kPoint, -kPoint);
        cairo_save(c);
        if (s.clip) {
            const Vec2 size = s.clip->second - s.clip->first;
            cairo_rectangle(c, s.clip->first.x(), s.clip->first.y(), size.x(), size.y());
            cairo_clip(c);
        }
        for (const Ink& ink : s.inks) {
            if (ink.pieces.empty()) continue;
            std::optional<Vec3> at;
            for (const Segment& piece : ink.pieces) {
                const Vec3 from = startOf(piece);
                if (!at || (from - *at).head<2>().norm() > tolerance::length) cairo_move_to(c, from.x(), from.y());
                follow(c, piece);
                at = endOf(piece);
            }
            if (ink.closed) cairo_close_path(c);
            if (ink.fill) {
                cairo_set_source_rgb(c, *ink.fill, *ink.fill, *ink.fill);
                cairo_fill_preserve(c);
            }
            cairo_set_source_rgb(c, ink.pen.grey, ink.pen.grey, ink.pen.grey);
            cairo_set_line_width(c, ink.pen.width);
            cairo_set_dash(c, ink.pen.dash.data(), int(ink.pen.dash.size()), 0);
            cairo_stroke(c);
        }
        cairo_restore(c);
        for (const Label& l : s.labels) {
            cairo_set_font_face(c, fonts.font(l.bold));
            cairo_matrix_t size;
            cairo_matrix_init_scale(&size, fonts.sizeFor(l.height), -fonts.sizeFor(l.height)); // y is up here
            cairo_set_font_matrix(c, &size);
            cairo_text_extents_t wide;
            cairo_text_extents(c, l.text.c_str(), &wide);
            cairo_save(c);
            cairo_translate(c, l.at.x(), l.at.y());
            cairo_rotate(c, l.turn);
            cairo_move_to(c, -shareBefore(l.anchor) * wide.x_advance, 0);
            cairo_set_source_rgb(c, l.grey, l.grey, l.grey);
            cairo_show_text(c, l.text.c_str());
            cairo_restore(c);
        }
        cairo_restore(c);
        cairo_show_page(c);
    }
    cairo_destroy(c);
    cairo_surface_finish(surface);
    const cairo_status_t status = cairo_surface_status(surface);
    cairo_surface_destroy(surface);
    if (status != CAIRO_STATUS_SUCCESS)
        return Problem{Words("The PDF cannot be made: ") + cairo_status_to_string(status) + ".", ""};
    return bytes;
}

} // namespace vicinal
