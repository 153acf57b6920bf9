#include "app/sheet/run/along/rows_section.h"
#include "model/document/run_item.h"

namespace vicinal {

using value_rows::valuesOf;

RowsSection::RowsSection(Store& store, QWidget* parent) : RunSection(store, parent) {
    for (const auto& v : valuesOf(Rows{})) addRow(v, putInto<&RunItem::rows>);
    for (const auto& v : valuesOf(Echoes{})) addRow(v, putInto<&RunItem::echoes>);
}

void RowsSection::refresh(const RunResult& run) {
    const Rows& r = run.item->rows;
    showRow("rowsApart", r.rows > 1);
    showRow("rowsKeep", r.rows > 1);
    showRow("tierHeight", r.tiers > 1);
    showRow("staggered", !r.none());
    const auto echo = [&](const Echo& e, const std::string& name, bool offered) {
        const bool any = offered && e.kind != EchoKind::None;
        showRow(name, offered);
        showRow(name + "At", any && e.kind != EchoKind::InLine);
        showRow(name + "Along", any);
        showRow(name + "Count", any && e.kind != EchoKind::Mirrored);
        showRow(name + "By", any && e.kind == EchoKind::InLine);
        showRow(name + "Angle", any && e.kind == EchoKind::Round);
        showRow(name + "Part", any && e.kind == EchoKind::Mirrored);
    };
    echo(run.item->echoes.one, "echo", true);
    echo(run.item->echoes.two, "again", run.item->echoes.one.kind != EchoKind::None);
    showValues(valuesOf(r));
    showValues(valuesOf(run.item->echoes));
    showProblem(run.problem);
}

QString RowsSection::summary(const RunResult& run) const {
    QStringList out;
    const Rows& r = run.item->rows;
    if (r.rows > 1) out += tr("%1 rows").arg(r.rows);
    if (r.tiers > 1) out += tr("%1 tiers").arg(r.tiers);
    for (const Echo* e : {&run.item->echoes.one, &run.item->echoes.two})
        if (e->kind != EchoKind::None) out += value_rows::word(kEchoWords[int(e->kind)].phrase);
    return out.isEmpty() ? tr("once") : out.join(" \u00b7 ");
}

} // namespace vicinal
