#include "app/sheet/run/spacing/fits_model.h"
#include "app/controls/format.h"
#include "app/controls/theme.h"
#include "layout/spacing/rules.h"

namespace vicinal {

void FitsModel::show(std::vector<Fit> fits, Unit unit, std::optional<ProfileKind> gives) {
    m_gives = gives;
    const bool same = fits.size() == m_fits.size();
    if (!same) beginResetModel();
    m_fits = std::move(fits);
    m_unit = unit;
    if (!same)
        endResetModel();
    else if (!m_fits.empty())
        emit dataChanged(index(0, Count), index(rowCount() - 1, LeftOver));
}

int FitsModel::inUse() const {
    for (size_t i = 0; i < m_fits.size(); ++i)
        if (m_fits[i].inUse) return int(i);
    return -1;
}

QString FitsModel::word(const Fit& f) {
    if (f.over) return tr("over");
    if (f.under) return tr("under");
    return f.inUse ? tr("in use") : QString();
}

QString FitsModel::text(const Fit& f, int column) const {
    if (m_gives && column == LeftOver) {
        if (!f.gives) return tr("no way");
        const double v = *f.gives;
        return *m_gives == ProfileKind::Angle    ? QString::number(v / kDegree, 'f', 2) + QString::fromUtf8("\u00b0")
               : *m_gives == ProfileKind::Factor ? QString::number(v, 'g', 6)
                                                 : lengthText(v, m_unit, false);
    }
    if (links()) switch (column) { // what is missing, and the play that would make up for it
        case Pitch: return lengthText(*f.closing, m_unit, false);
        case Clear: return f.play ? lengthText(*f.play, m_unit, false) : tr("\u2013");
        case LeftOver: return word(f);
        default: break;
        }
    switch (column) {
    case Count: return QString::number(f.count);
    case Pitch: return f.pitch > 0 ? lengthText(f.pitch, m_unit, false) : tr("\u2013");
    case Clear: return lengthText(f.over ? f.gapMost : f.gapLeast, m_unit, false);
    default: break;
    }
    const QString said = word(f);
    return said.isEmpty() ? lengthText(f.leftOver, m_unit, false) : said;
}

QVariant FitsModel::data(const QModelIndex& at, int role) const {
    if (!at.isValid() || size_t(at.row()) >= m_fits.size()) return {};
    const Fit& f = m_fits[size_t(at.row())];
    switch (role) {
    case Qt::DisplayRole: return text(f, at.column());
    case Qt::TextAlignmentRole: return QVariant(Qt::AlignRight | Qt::AlignVCenter);
    case Qt::BackgroundRole: return f.inUse ? QVariant(theme::accentTint()) : QVariant();
    case Qt::ForegroundRole:
        if (at.column() != LeftOver) return {};
        if (f.over || f.under) return theme::brick();
        return f.inUse ? theme::moss() : theme::muted();
    case Qt::ToolTipRole:
        if (f.closing)
            return tr("%1 links: %2 are missing%3. Click to take it.")
                .arg(f.count)
                .arg(lengthText(*f.closing, m_unit),
                     f.play ? tr(", or %1 of play in every joint").arg(lengthText(*f.play, m_unit)) : QString());
        return tr("%1 places: c/c %2, gap along %3 to %4, left over %5. Click to take it.")
            .arg(f.count)
            .arg(lengthText(f.pitch, m_unit), lengthText(f.gapLeast, m_unit), lengthText(f.gapMost, m_unit),
                 lengthText(f.leftOver, m_unit));
    default: return {};
    }
}

QVariant FitsModel::headerData(int section, Qt::Orientation way, int role) const {
    if (way == Qt::Vertical || role != Qt::DisplayRole) return {};
    if (m_gives && section == LeftOver) return tr("gives");
    if (links()) {
        const QString names[] = {tr("links"), tr("missing"), tr("play"), QString()};
        return names[section];
    }
    const QString names[] = {tr("places"), tr("c/c"), tr("gap along"), tr("left over")};
    return names[section];
}

} // namespace vicinal
