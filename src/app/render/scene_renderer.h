#pragma once
#include "app/view/camera.h"
#include "geometry/mesh/mesh.h"
#include <QColor>
#include <QMatrix4x4>
#include <functional>
#include <map>
#include <memory>

class QOpenGLFunctions_3_3_Core;
class QOpenGLShaderProgram;

namespace vicinal {

/// Places with the same part as the picture wants them.
struct Batch {
    std::shared_ptr<const Mesh> mesh;
    std::function<Mat4(size_t)> pose; ///< part axes to world, sizes allowed; asked only within setScene()
    std::vector<QRgb> colours;        ///< one a place; alpha 0: only its edges are drawn
    bool ground = false;              ///< its bumps are no edges: only sharp ones and its border are drawn
};

/// Draws batches as instances with OpenGL 3.3: faces with soft light, edges, culling, boxes and dots for what is small.
/// All calls need the context current that init() was called in.
class SceneRenderer {
public:
    SceneRenderer();
    ~SceneRenderer();
    SceneRenderer(const SceneRenderer&) = delete;
    SceneRenderer& operator=(const SceneRenderer&) = delete;

    /// False with a reason when OpenGL 3.3 is not there.
    bool init(QString* why);
    void release();
    void setScene(std::vector<Batch>, const Vec3& origin);
    /// `light`: draw less while the view moves.
    void draw(const Camera&, const Box3& bounds, bool light);
    /// Nothing behind the parts; flat colours instead of shading.
    void setLook(bool background, bool soft) { m_background = background, m_soft = soft; }
    void setSky(const QColor& top, const QColor& bottom) { m_skyTop = top, m_skyBottom = bottom; }
    /// Lines of the ground (or of the drawing plane) with their colour; fading with distance from the target.
    void setGrid(const std::vector<Vec3>& lineEnds, const QColor&, double reach);
    /// True while simplified copies are being made: another frame is worth drawing in a while.
    bool pending() const { return m_pending; }

private:
    void drawGround(const Camera&, const QMatrix4x4&);
    static constexpr size_t kManyBodies = 1500;         ///< beyond them a moving view goes without edges
    size_t drawFaces(const Camera&, const QMatrix4x4&); ///< how many bodies they are of
    void drawEdges(const Camera&, const QMatrix4x4&, bool light);
    struct MeshBuffers;
    struct Drawn;
    void dropMeshes(bool (*unwanted)(const MeshBuffers&));
    MeshBuffers& buffersOf(const std::shared_ptr<const Mesh>&, bool ground);
    static std::vector<float> facesOf(const Mesh&, const Vec3& centre);
    static std::vector<float> edgesOf(const Mesh&, const Vec3& centre, bool ground = false);
    void upload(unsigned& buffer, unsigned& vao, const std::vector<float>&);
    void takeSimpler();
    void drawInstances(unsigned vao, unsigned mode, int vertices, const std::vector<float>& instances);
    void sort(const Camera&, bool light);

    QOpenGLFunctions_3_3_Core* m_gl = nullptr;
    std::unique_ptr<QOpenGLShaderProgram> m_faces, m_edges, m_dots, m_ground, m_sky;
    std::map<const Mesh*, std::unique_ptr<MeshBuffers>> m_meshes;
    std::vector<std::unique_ptr<Drawn>> m_drawn;
    Vec3 m_origin = Vec3::Zero();
    unsigned m_gridVao = 0, m_skyVao = 0, m_gridBuffer = 0, m_instanceBuffer = 0;
    int m_gridVertices = 0;
    QColor m_gridColour, m_skyTop, m_skyBottom;
    double m_gridReach = 1;
    bool m_pending = false, m_background = true, m_soft = true;
};

} // namespace vicinal
