#pragma once
// Fields for whatever hands out its values by describe() (base/describe.h): path recipes and makers of parts.
#include "app/state/store.h"
#include "base/describe.h"
#include "base/quantity.h"
#include "model/values/values.h"
#include <QStringList>
#include <QWidget>
#include <functional>
#include <optional>

class QComboBox;
class QVBoxLayout;

namespace vicinal {

class Segmented;
class ValueField;

struct ShownValue {
    ValueKind sort = ValueKind::Length;
    const char *key = "", *label = "", *tip = "";
    Vec3 value = Vec3::Zero();                  ///< x alone unless it is three numbers
    std::vector<ChoiceWord> words = {};         ///< of a choice
    bool none = false;                          ///< a limit that is not set
    std::function<std::string(Unit)> text = {}; ///< of what is typed as text
    Id item = 0;                                ///< one of the document's, or none
    ItemKind kind = ItemKind::Part;
};

namespace value_rows {

QString word(const char*); ///< labels are written where the values are, and translated here

inline constexpr int kSheetRoom = 288; ///< pixels a row of buttons has in the sheet beside its scroll bar

/// The buttons of a choice, the field of any other value that is one number (or one of a point's or turn's three).
Segmented* makeChoice(const QString& name, const ShownValue&);
ValueField* makeField(const QString& name, const QString& label, const ShownValue&);

/// Offers the items of a kind in a box, the one in use chosen.
void fillItemsOf(QComboBox*, const Document&, ItemKind, Id current, const QString& none);

/// All values that are handed out.
std::vector<ShownValue> collected(const Handing&);
/// Puts one value back into what hands it out; not a number: none.
void put(const Handing&, const std::string& key, double value, int axis);

template<class T> std::vector<ShownValue> valuesOf(T described) {
    return collected([&](const ValueVisitor& v) { describe(v, described); });
}
template<class T> void setValue(T& described, const std::string& key, double value, int axis) {
    put([&](const ValueVisitor& v) { describe(v, described); }, key, value, axis);
}

} // namespace value_rows

/// One row a value. Rows are made anew only when others are needed, so that a field keeps its focus while it is
/// stepped.
class ValueRows : public QWidget {
    Q_OBJECT
public:
    /// `name`: rows are called "<name>.<key>".
    ValueRows(Store&, const QString& name, QWidget* parent = nullptr);
    /// `of`: another text means other rows. `problem`: shown at the row whose key is its field.
    void show(const QString& of, const std::vector<ShownValue>&, const std::optional<Problem>& problem);
    bool has(const std::string& key) const;

signals:
    /// A new value; `axis` of a point; `live`: more of the same gesture follows.
    void changed(const QString& label, const std::string& key, double value, int axis, bool live);

private:
    using Show = std::function<void(const ShownValue&, const QString& problem)>;
    Show add(const ShownValue&, QVBoxLayout*);
    Show addThree(const ShownValue&, QVBoxLayout*);
    Show addItem(const ShownValue&, QVBoxLayout*);
    /// Tells a new value of a row.
    std::function<void(double, int axis, bool live)> setterOf(const ShownValue&);
    Store& m_store;
    QString m_name, m_of;
    QWidget* m_body = nullptr;
    std::vector<std::pair<std::string, Show>> m_rows;
};

} // namespace vicinal
