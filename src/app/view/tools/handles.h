#pragma once
#include "app/state/store.h"
#include "model/recipes/recipe.h"
#include <QCoreApplication>

namespace vicinal {

/// Something of the path in hand that can be dragged in the view.
struct Handle {
    enum class Kind {
        Point,
        Via,
        In,
        Out,
        Value,
        Wheel,
        InsetStart,
        InsetEnd,
        RunPoint,
        Key,
        Sag,
        Loose,
        BodyMove,
        BodyTurn,
        BodySize
    } kind = Kind::Point;
    int index = 0; ///< of the point, the wheel, the recipe's point values; RunPoint: 0 target, 1 echo, 2 echo again;
                   ///< Key: which of kProfiles
    Vec3 at = Vec3::Zero();
    int key = 0;  ///< Key: of its profile
    int lane = 0; ///< Key: profiles with keys stand one above the other
    bool operator==(const Handle& o) const { return kind == o.kind && index == o.index && key == o.key; }
    bool inset() const { return kind == Kind::InsetStart || kind == Kind::InsetEnd; }
};

/// Its points and their handles, the points of its recipe, wheels, and of the run in hand the insets, what it is aimed
/// at, and the keys of its profiles; of a heap the middle of the loose parts that are selected;
/// of a site body what moves it, turns it in plan and sizes it.
std::vector<Handle> handlesOf(const Store&);
/// "point N", "via N", "in N", "out N", "value N", "wheel N", "inset start", "inset end", "target", "echo", "echo
/// again", "roll key N", "sag", "loose", "body move", "body turn", "body size": for tests and guides.
QString nameOf(const Handle&);
/// What is said beside the pointer while it is dragged.
QString textOf(const Handle&, const Store&);

/// A handle under way: the recipe as it was when the drag began, from which every step is worked out.
class HandleDrag {
    Q_DECLARE_TR_FUNCTIONS(HandleDrag)
public:
    HandleDrag(Store&, const Handle&, QString merge);
    const Handle& handle() const { return m_handle; }
    const Vec3& start() const { return m_handle.at; }
    /// Of the path where the drag began; zero when there is none.
    const Vec3& tangent() const { return m_tangent; }
    /// Normal of the plane it stays in: its loop's for a wheel, else `looked`.
    Vec3 normal(const Vec3& looked) const;
    void to(const Vec3&); ///< puts it there; not for insets
    void bodyTo(const Vec3&);
    void setInset(double inset); ///< mm, as it is meant: no limit but the path's own
    /// A key to a station and a value; a value alone.
    void setKey(double station, double value);
    bool setKeyTyped(const QString& value, QString* why);
    /// Station and value of the key as the drag began.
    double keyStation() const { return m_keyStation; }
    double keyValue() const { return m_keyValue; }
    bool changed() const; ///< the document has steps of this drag

private:
    Store& m_store;
    Handle m_handle;
    QString m_merge;
    size_t m_step = 0; ///< of the history, when it began
    Vec3 m_tangent = Vec3::Zero();
    std::optional<PathRecipe> m_recipe;
    std::vector<double> m_stations; ///< of its points then, for a soft drag
    double m_keyStation = 0, m_keyValue = 0;
    std::shared_ptr<const HeapItem> m_heap; ///< as it was when it was taken hold of
    std::shared_ptr<const BodyItem> m_body; ///< the same of a site body, and where its own origin stood
    Vec3 m_origin = Vec3::Zero();
    std::optional<double> m_sag; ///< of the strand, when it was taken hold of
};

} // namespace vicinal
