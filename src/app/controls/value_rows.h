#pragma once
// Fields for whatever hands out its values by describe() (base/describe.h): path recipes and makers of parts.
#include "app/state/store.h"
#include "base/describe.h"
#include "geometry/curves/wheels.h"
#include "layout/along/profile.h"
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
    enum class Sort {
        Length,
        Limit,
        Angle,
        Number,
        Count,
        Flag,
        Choice,
        Point,
        Turn,
        Direction,
        Stations, ///< typed as text
        Profile,  ///< typed as text
        Item      ///< one of the document's, or none
    } sort = Sort::Length;
    const char *key = "", *label = "", *tip = "";
    Vec3 value = Vec3::Zero();          ///< x alone unless it is a point or a turn (three angles)
    std::vector<ChoiceWord> words = {}; ///< of a choice
    bool none = false;                  ///< a limit that is not set
    std::vector<double> list = {};      ///< stations
    Profile profile = {};
    ProfileOf of = ProfileOf::Length;
    Id item = 0;
    ItemOf kind = ItemOf::Part;
};

namespace value_rows {

QString word(const char*); ///< labels are written where the values are, and translated here

inline constexpr int kSheetRoom = 296; ///< pixels a row of buttons has in the sheet

/// The buttons of a choice, the field of any other value that is one number (or one of a point's or turn's three).
Segmented* makeChoice(const QString& name, const ShownValue&);
ValueField* makeField(const QString& name, const QString& label, const ShownValue&);

/// Takes all values of something.
struct Collector : IgnoreValues {
    std::vector<ShownValue>& out;
    explicit Collector(std::vector<ShownValue>& o) : out(o) {}
    using Sort = ShownValue::Sort;
    void add(Sort sort, const char* key, const char* label, const char* tip, double v) const {
        out.push_back({sort, key, label, tip, Vec3(v, 0, 0)});
    }
    void length(const char* k, const char* l, const char* t, double v) const { add(Sort::Length, k, l, t, v); }
    void angle(const char* k, const char* l, const char* t, double v) const { add(Sort::Angle, k, l, t, v); }
    void number(const char* k, const char* l, const char* t, double v) const { add(Sort::Number, k, l, t, v); }
    void count(const char* k, const char* l, const char* t, long v) const { add(Sort::Count, k, l, t, double(v)); }
    void flag(const char* k, const char* l, const char* t, bool v) const { add(Sort::Flag, k, l, t, v); }
    void point(const char* k, const char* l, const char* t, const Vec3& v) const {
        out.push_back({Sort::Point, k, l, t, v});
    }
    template<class E> void choice(const char* k, const char* l, const char* t, E v, ChoiceWords words) const {
        add(Sort::Choice, k, l, t, double(int(v)));
        for (const ChoiceWord& w : words) out.back().words.push_back(w);
    }
    void limit(const char* k, const char* l, const char* t, const std::optional<double>& v) const {
        add(Sort::Limit, k, l, t, v.value_or(0));
        out.back().none = !v;
    }
    void turn(const char* k, const char* l, const char* t, const Vec3& v) const {
        out.push_back({Sort::Turn, k, l, t, v});
    }
    void direction(const char* k, const char* l, const char* t, const Vec3& v) const {
        out.push_back({Sort::Direction, k, l, t, v});
    }
    void stations(const char* k, const char* l, const char* t, const std::vector<double>& v) const {
        add(Sort::Stations, k, l, t, 0);
        out.back().list = v;
    }
    void profile(const char* k, const char* l, const char* t, const Profile& p, ProfileOf what) const {
        add(Sort::Profile, k, l, t, 0);
        out.back().profile = p;
        out.back().of = what;
    }
    void item(const char* k, const char* l, const char* t, Id id, ItemOf what) const {
        add(Sort::Item, k, l, t, 0);
        out.back().item = id;
        out.back().kind = what;
    }
};

/// Puts one value back.
struct Setter : IgnoreValues {
    const std::string& key;
    double v; ///< not a number: none
    int axis;
    Setter(const std::string& k, double value, int a) : key(k), v(value), axis(a) {}
    void limit(const char* k, const char*, const char*, std::optional<double>& x) const {
        if (mine(k)) x = std::isnan(v) ? std::nullopt : std::optional(v);
    }
    void turn(const char* k, const char*, const char*, Vec3& x) const { mine(k) ? void(x[axis] = v) : void(); }
    void direction(const char* k, const char*, const char*, Vec3& x) const { mine(k) ? void(x[axis] = v) : void(); }
    bool mine(const char* k) const { return key == k; }
    void length(const char* k, const char*, const char*, double& x) const { mine(k) ? void(x = v) : void(); }
    void angle(const char* k, const char*, const char*, double& x) const { mine(k) ? void(x = v) : void(); }
    void number(const char* k, const char*, const char*, double& x) const { mine(k) ? void(x = v) : void(); }
    void count(const char* k, const char*, const char*, long& x) const { mine(k) ? void(x = long(v)) : void(); }
    void flag(const char* k, const char*, const char*, bool& x) const { mine(k) ? void(x = v != 0) : void(); }
    void point(const char* k, const char*, const char*, Vec3& x) const { mine(k) ? void(x[axis] = v) : void(); }
    void item(const char* k, const char*, const char*, Id& x, ItemOf) const { mine(k) ? void(x = Id(v)) : void(); }
    template<class E> void choice(const char* k, const char*, const char*, E& x, ChoiceWords) const {
        mine(k) ? void(x = E(int(v))) : void();
    }
};

/// Offers the items of a kind in a box, the one in use chosen.
void fillItemsOf(QComboBox*, const Document&, ItemOf, Id current, const QString& none);

template<class T> std::vector<ShownValue> valuesOf(const T& described) {
    std::vector<ShownValue> out;
    describe(Collector(out), described);
    return out;
}
template<class T> void setValue(T& described, const std::string& key, double value, int axis) {
    describe(Setter(key, value, axis), described);
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
    Store& m_store;
    QString m_name, m_of;
    QWidget* m_body = nullptr;
    std::vector<std::pair<std::string, Show>> m_rows;
};

} // namespace vicinal
