#include "app/controls/format.h"
#include "base/text.h"
#include <QCoreApplication>
#include <QStringList>

namespace vicinal {

QString lengthText(double mm, Unit unit, bool withUnit) {
    constexpr int decimals[] = {2, 3, 4, 3, 4};
    const QString number = QString::fromStdString(text::fixed(mm / millimetresPer(unit), decimals[int(unit)]));
    return withUnit ? number + " " + nameOf(unit) : number;
}

QString longLengthText(double mm, Unit unit) {
    if (unit == Unit::Inch || unit == Unit::Foot) return QString::fromStdString(text::fixed(mm / 304.8, 2)) + " ft";
    if (mm < 1000) return QString::fromStdString(text::fixed(mm, 0)) + " mm";
    return QString::fromStdString(text::fixed(mm / 1000, 2)) + " m";
}

Result<Vec3> parsePoint(const QString& typed, Unit unit, const Vec3& now) {
    const QStringList cells = typed.split(typed.contains(';') ? ';' : ',', Qt::KeepEmptyParts);
    if (cells.size() < 2 || cells.size() > 3) return Problem{"A point is x, y and, if wanted, z.", "point"};
    Vec3 out = now;
    for (int i = 0; i < cells.size(); ++i) {
        const auto v = parseLength(cells[i].trimmed().toStdString(), unit);
        if (!v) return v.problem();
        out[i] = *v;
    }
    return out;
}

QString volumeText(double v) {
    const auto [k, word] = v < 1e3   ? std::pair(1.0, QString::fromUtf8("mm\u00b3"))
                           : v < 1e8 ? std::pair(1e-3, QString::fromUtf8("cm\u00b3"))
                                     : std::pair(1e-9, QString::fromUtf8("m\u00b3"));
    return QCoreApplication::translate("Format", "Volume %1 %2").arg(QString::number(v * k, 'g', 6), word);
}

} // namespace vicinal
