#include "app/sheet/body_lists.h"
#include "app/controls/format.h"
#include "app/controls/theme.h"
#include "model/document/body_item.h"
#include "model/document/part_item.h"
#include "model/recipes/cut_shape.h"
#include "parts/cuts/webs.h"
#include <QHeaderView>
#include <QLabel>
#include <QTableWidget>
#include <QVBoxLayout>

namespace vicinal {
namespace {

constexpr int kMostRows = 40; ///< the rest goes out as a list
constexpr int kShownRows = 8;

QString angleText(double radians) {
    const double degrees = radians / kDegree;
    return QString::number(std::abs(degrees) < 0.005 ? 0 : degrees, 'f', 1) + QString::fromUtf8("\u00b0");
}

/// One end of a bar: square, or the marks on its upper and its left face.
QString endText(double plan, double slope) {
    const bool flat = std::abs(plan) < 0.005 * kDegree, level = std::abs(slope) < 0.005 * kDegree;
    if (flat && level) return BodyLists::tr("square");
    return level ? angleText(plan) : angleText(plan) + " / " + angleText(slope);
}

} // namespace

BodyLists::BodyLists(Store& store, QWidget* parent) : QWidget(parent), m_store(store) {
    auto* box = new QVBoxLayout(this);
    box->setContentsMargins(0, 0, 0, 0);
    box->setSpacing(4);
    m_head = new QLabel;
    m_head->setObjectName("body.list.head");
    m_head->setWordWrap(true);
    m_table = new QTableWidget;
    m_table->setObjectName("body.list");
    m_table->setEditTriggers(QAbstractItemView::NoEditTriggers);
    m_table->setSelectionMode(QAbstractItemView::NoSelection);
    m_table->setFocusPolicy(Qt::NoFocus);
    m_table->setShowGrid(false);
    m_table->setAlternatingRowColors(true);
    m_table->verticalHeader()->hide();
    m_table->verticalHeader()->setDefaultSectionSize(22);
    m_table->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    box->addWidget(m_head);
    box->addWidget(m_table);
}

void BodyLists::show(const BodyResult& body) {
    const bool any = !body.bars.empty() || body.cut;
    setVisible(any);
    if (!body.bars.empty())
        showBars(body);
    else if (body.cut)
        showCut(body);
}

void BodyLists::showBars(const BodyResult& body) {
    const Unit unit = m_store.document().unit;
    const auto kinds = kindsOf(body.bars);
    double length = 0;
    for (const RailBar& b : body.bars) length += b.longest;
    QString head =
        tr("Cut list: %n bar(s), %1 in all", nullptr, int(body.bars.size())).arg(longLengthText(length, unit));
    if (int(kinds.size()) > kMostRows)
        head += tr(". The first %1 of %2 kinds; send the list out for all").arg(kMostRows).arg(kinds.size());
    m_head->setText(head);
    std::vector<QStringList> rows;
    for (const BarKind& k : kinds) {
        if (int(rows.size()) == kMostRows) break;
        const RailBar& b = k.bar;
        rows.push_back({QString::number(k.which.size()) + QString::fromUtf8(" \u00d7"),
                        lengthText(b.longest, unit, false), endText(b.startPlan, b.startSlope),
                        endText(b.endPlan, b.endSlope) + (b.bent ? tr(", bent") : QString())});
    }
    fill({tr("Count"), tr("Over all"), tr("Start"), tr("End")}, rows);
    m_table->setToolTip(
        tr("Ends from square: the marks on the upper face, then on the left one where that slopes, too"));
}

void BodyLists::showCut(const BodyResult& body) {
    const Unit unit = m_store.document().unit;
    const CutReport& cut = *body.cut;
    const auto* shape = std::get_if<CutBy>(&body.item->shape);
    const double least = shape ? shape->least : 0;
    const double taken = cut.before - cut.after;
    QString head = (taken >= 0 ? tr("%n shape(s) cut: %1 before, %2 after", nullptr, int(cut.tools))
                               : tr("%n shape(s) raised: %1 before, %2 after", nullptr, int(cut.tools)))
                       .arg(volumeText(cut.before).section(' ', 1), volumeText(cut.after).section(' ', 1));
    if (const double density = body.item->density; density > 0)
        head += tr("; mass %1 kg before, %2 kg after")
                    .arg(QString::number(mass(cut.before, density), 'g', 5),
                         QString::number(mass(cut.after, density), 'g', 5));
    if (!cut.webs.empty())
        head += tr(". Least web %1").arg(lengthText(cut.webs.front().width, unit));
    else if (!cut.flat && taken >= 0)
        head += tr(". Webs are measured between shapes that lead the same way");
    m_head->setText(head + ".");
    std::vector<QStringList> rows;
    for (const Web& w : cut.webs) {
        if (int(rows.size()) == kMostRows) break;
        rows.push_back(
            {QString::number(w.hole + 1), w.other == Web::kEdge ? tr("the edge") : QString::number(w.other + 1),
             lengthText(w.width, unit, false), least > 0 && w.width < least ? QString::fromUtf8("\u25b2") : QString()});
    }
    fill({tr("Place"), tr("To"), tr("Web"), {}}, rows);
    m_table->setToolTip(tr("The least material beside each hole, the narrowest first"));
}

void BodyLists::fill(const QStringList& heads, const std::vector<QStringList>& rows) {
    m_table->setVisible(!rows.empty());
    m_table->setColumnCount(int(heads.size()));
    m_table->setHorizontalHeaderLabels(heads);
    m_table->setRowCount(int(rows.size()));
    for (int r = 0; r < int(rows.size()); ++r)
        for (int c = 0; c < int(heads.size()); ++c) {
            auto* item = m_table->item(r, c);
            if (!item) m_table->setItem(r, c, item = new QTableWidgetItem);
            const QString& text = rows[size_t(r)][c];
            if (item->text() != text) item->setText(text);
            item->setForeground(text.startsWith(QChar(0x25b2)) ? theme::ochre() : theme::ink());
        }
    m_table->resizeColumnsToContents();
    m_table->horizontalHeader()->setStretchLastSection(true);
    const int shown = std::min(int(rows.size()), kShownRows);
    m_table->setFixedHeight(m_table->horizontalHeader()->sizeHint().height() + 22 * shown + 4);
}

} // namespace vicinal
