#pragma once
#include "base/id.h"
#include "model/document/body_item.h"
#include "model/document/part_item.h"
#include "model/document/path_item.h"
#include "model/document/run_item.h"
#include <QComboBox>

namespace vicinal {

/// The document's items to choose from, with the one in use chosen. `none`: what stands for id 0, when that may be
/// chosen; `missing`: what stands for an id that no item has. A box that offers the same already is left as it is,
/// since sheets are refreshed with every step of a drag.
template<class Items>
void fillItems(QComboBox* box, const Items& items, Id current, const QString& missing, const QString& none = {}) {
    std::vector<std::pair<QString, Id>> wanted;
    if (!none.isEmpty()) wanted.emplace_back(none, 0);
    for (const auto& i : items) wanted.emplace_back(QString::fromStdString(i->name), i->id);
    const auto is = [&](const auto& w) { return w.second == current; };
    if (std::none_of(wanted.begin(), wanted.end(), is)) wanted.emplace(wanted.begin(), missing, current);
    bool same = size_t(box->count()) == wanted.size();
    for (size_t i = 0; same && i < wanted.size(); ++i)
        same = box->itemData(int(i)).toInt() == wanted[i].second && box->itemText(int(i)) == wanted[i].first;
    if (!same) {
        box->clear();
        for (const auto& [name, id] : wanted) box->addItem(name, id);
    }
    box->setCurrentIndex(box->findData(current));
}

} // namespace vicinal
