#include "app/render/scene_renderer.h"
#include "app/render/shaders.h"
#include <QElapsedTimer>
#include <QFuture>
#include <QOpenGLContext>
#include <QOpenGLFunctions_3_3_Core>
#include <QOpenGLShaderProgram>
#include <QOpenGLVersionFunctionsFactory>
#include <QtConcurrentRun>
#include <algorithm>

namespace vicinal {
namespace {

using namespace shaders;

constexpr int kFloats = 20;                // an instance: 4x4 matrix, colour
constexpr int kManyTriangles = 1500;       // more: a simplified copy is worth its while
constexpr size_t kFineTriangles = 250'000; // more: triangles are smaller than pixels

std::unique_ptr<QOpenGLShaderProgram> program(const QByteArray& vertex, const char* fragment, QString* why) {
    auto p = std::make_unique<QOpenGLShaderProgram>();
    p->addShaderFromSourceCode(QOpenGLShader::Vertex, kHead + vertex);
    p->addShaderFromSourceCode(QOpenGLShader::Fragment, QByteArray(kHead) + fragment);
    if (!p->link()) {
        *why = p->log();
        return nullptr;
    }
    return p;
}

QMatrix4x4 toQt(const Mat4& m) {
    QMatrix4x4 out;
    for (int r = 0; r < 4; ++r)
        for (int c = 0; c < 4; ++c) out(r, c) = float(m(r, c));
    return out;
}

} // namespace

struct SceneRenderer::MeshBuffers {
    std::weak_ptr<const Mesh> mesh;
    Vec3 centre;
    double radius = 0;
    unsigned faces = 0, edges = 0, boxFaces = 0, boxEdges = 0; // vertex buffers
    unsigned faceVao = 0, edgeVao = 0, boxFaceVao = 0, boxEdgeVao = 0;
    int faceVertices = 0, edgeVertices = 0, boxFaceVertices = 0, boxEdgeVertices = 0;
    int triangles = 0;
    // A copy with fewer triangles for what is small on the screen; made on another thread.
    QFuture<Mesh> simpler;
    QElapsedTimer age;
    unsigned simple = 0, simpleVao = 0;
    int simpleVertices = 0;
};

struct SceneRenderer::Drawn {
    std::shared_ptr<const Mesh> mesh;
    bool ground = false;                        ///< as Batch
    bool clear = false;                         ///< what is behind shows
    bool sized = false;                         ///< some are larger or smaller than the part
    std::vector<float> instances;               ///< all, relative to the origin
    std::vector<float> near, medium, far, dots; ///< those in sight, by size on the screen
};

SceneRenderer::SceneRenderer() = default;
SceneRenderer::~SceneRenderer() = default;

bool SceneRenderer::init(QString* why) {
    m_gl = QOpenGLVersionFunctionsFactory::get<QOpenGLFunctions_3_3_Core>(QOpenGLContext::currentContext());
    if (!m_gl || !m_gl->initializeOpenGLFunctions()) {
        *why = QObject::tr("OpenGL 3.3 is not available here.");
        m_gl = nullptr;
        return false;
    }
    m_faces = program(QByteArray(kInstance) + kFaceVertex, kFaceFragment, why);
    m_edges = program(QByteArray(kInstance) + kEdgeVertex, kFlatFragment, why);
    m_dots = program(QByteArray(kInstance) + kDotVertex, kFlatFragment, why);
    m_ground = program(kGroundVertex, kFlatFragment, why);
    m_sky = program(kSkyVertex, kFlatFragment, why);
    if (!m_sky || !m_faces || !m_edges || !m_dots || !m_ground) return false;
    m_gl->glGenBuffers(1, &m_instanceBuffer);
    m_gl->glGenBuffers(1, &m_gridBuffer);
    m_gl->glGenVertexArrays(1, &m_gridVao);
    m_gl->glGenVertexArrays(1, &m_skyVao);
    return true;
}

void SceneRenderer::dropMeshes(bool (*unwanted)(const MeshBuffers&)) {
    std::erase_if(m_meshes, [&](const auto& entry) {
        const MeshBuffers& b = *entry.second;
        if (!unwanted(b)) return false;
        const unsigned buffers[] = {b.faces, b.edges, b.boxFaces, b.boxEdges, b.simple};
        const unsigned arrays[] = {b.faceVao, b.edgeVao, b.boxFaceVao, b.boxEdgeVao, b.simpleVao};
        m_gl->glDeleteBuffers(5, buffers);
        m_gl->glDeleteVertexArrays(5, arrays);
        return true;
    });
}

void SceneRenderer::release() {
    if (!m_gl) return;
    dropMeshes([](const MeshBuffers&) { return true; });
    m_gl->glDeleteBuffers(1, &m_instanceBuffer);
    m_gl->glDeleteBuffers(1, &m_gridBuffer);
    m_gl->glDeleteVertexArrays(1, &m_gridVao);
    m_gl->glDeleteVertexArrays(1, &m_skyVao);
    m_faces.reset();
    m_edges.reset();
    m_dots.reset();
    m_ground.reset();
    m_sky.reset();
    m_gl = nullptr;
}

SceneRenderer::MeshBuffers& SceneRenderer::buffersOf(const std::shared_ptr<const Mesh>& mesh, bool ground) {
    auto& slot = m_meshes[mesh.get()];
    if (slot) return *slot;
    slot = std::make_unique<MeshBuffers>();
    MeshBuffers& b = *slot;
    b.mesh = mesh;
    b.centre = mesh->box.center(); // vertices from the middle, in double before float: far-off meshes stay sharp
    b.radius = mesh->box.diagonal().norm() / 2;
    b.triangles = int(mesh->triangles.size());
    const auto make = [&](unsigned& buffer, unsigned& vao, int& count, const std::vector<float>& data) {
        count = int(data.size() / 6);
        upload(buffer, vao, data);
    };
    make(b.faces, b.faceVao, b.faceVertices, facesOf(*mesh, b.centre));
    make(b.edges, b.edgeVao, b.edgeVertices, edgesOf(*mesh, b.centre, ground));
    const Mesh box = boxMesh(mesh->box);
    make(b.boxFaces, b.boxFaceVao, b.boxFaceVertices, facesOf(box, b.centre));
    make(b.boxEdges, b.boxEdgeVao, b.boxEdgeVertices, edgesOf(box, b.centre));
    b.age.start();
    return b;
}

/// Positions and normals, six numbers a vertex. Meshes finer than a picture are shaded flat: nobody can tell.
std::vector<float> SceneRenderer::facesOf(const Mesh& m, const Vec3& centre) {
    std::vector<float> out(m.triangles.size() * 18);
    const bool fine = m.triangles.size() > kFineTriangles;
    const auto normals = fine ? normalsOf(m) : cornerNormals(m);
    float* to = out.data();
    for (size_t t = 0; t < m.triangles.size(); ++t)
        for (size_t k = 0; k < 3; ++k) {
            const Vec3 p = m.points[m.triangles[t][k]] - centre;
            const Vec3& n = normals[fine ? t : 3 * t + k];
            for (int i = 0; i < 3; ++i) to[i] = float(p[i]), to[3 + i] = float(n[i]);
            to += 6;
        }
    return out;
}

std::vector<float> SceneRenderer::edgesOf(const Mesh& m, const Vec3& centre, bool ground) {
    std::vector<float> out;
    if (m.triangles.size() > kFineTriangles) return out; // they would cover it
    for (const auto& pair : featureEdges(m, (ground ? 55 : 20) * kDegree))
        for (auto i : pair) {
            const Vec3 p = m.points[i] - centre;
            out.insert(out.end(), {float(p.x()), float(p.y()), float(p.z()), 0, 0, 1});
        }
    return out;
}

void SceneRenderer::upload(unsigned& buffer, unsigned& vao, const std::vector<float>& data) {
    m_gl->glGenBuffers(1, &buffer);
    m_gl->glGenVertexArrays(1, &vao);
    m_gl->glBindVertexArray(vao);
    m_gl->glBindBuffer(GL_ARRAY_BUFFER, buffer);
    m_gl->glBufferData(GL_ARRAY_BUFFER, GLsizeiptr(data.size() * 4), data.data(), GL_STATIC_DRAW);
    for (unsigned i = 0; i < 2; ++i) {
        m_gl->glEnableVertexAttribArray(i);
        m_gl->glVertexAttribPointer(i, 3, GL_FLOAT, GL_FALSE, 24, reinterpret_cast<void*>(size_t(12 * i)));
    }
    m_gl->glBindBuffer(GL_ARRAY_BUFFER, m_instanceBuffer);
    for (unsigned i = 0; i < 5; ++i) {
        m_gl->glEnableVertexAttribArray(2 + i);
        m_gl->glVertexAttribPointer(2 + i, 4, GL_FLOAT, GL_FALSE, kFloats * 4, reinterpret_cast<void*>(size_t(16 * i)));
        m_gl->glVertexAttribDivisor(2 + i, 1);
    }
    m_gl->glBindVertexArray(0);
}

/// Has simplified copies made of meshes that stay - one that is being dragged larger lives for a frame only - and takes
/// those that are ready.
void SceneRenderer::takeSimpler() {
    m_pending = false;
    for (auto& [mesh, b] : m_meshes) {
        if (b->triangles <= kManyTriangles || b->simpleVertices > 0) continue;
        if (!b->simpler.isValid() && b->age.elapsed() > 300)
            if (const auto alive = b->mesh.lock())
                b->simpler = QtConcurrent::run([alive, radius = b->radius] {
                    return simplified(*alive, std::max<size_t>(400, alive->triangles.size() / 12), radius / 160);
                });
        if (!b->simpler.isValid() || !b->simpler.isFinished()) {
            m_pending = true;
            continue;
        }
        const auto data = facesOf(b->simpler.result(), b->centre);
        b->simpleVertices = int(data.size() / 6);
        upload(b->simple, b->simpleVao, data);
    }
}

void SceneRenderer::setScene(std::vector<Batch> batches, const Vec3& origin) {
    m_origin = origin;
    m_drawn.clear();
    for (auto& batch : batches) {
        auto d = std::make_unique<Drawn>();
        d->mesh = batch.mesh;
        d->ground = batch.ground;
        const Vec3 centre = batch.mesh->box.center();
        d->instances.resize(batch.colours.size() * kFloats);
        for (size_t i = 0; i < batch.colours.size(); ++i) {
            const Mat4 m = batch.pose(i);
            float* f = d->instances.data() + i * kFloats;
            for (int c = 0; c < 3; ++c)
                for (int r = 0; r < 4; ++r) f[4 * c + r] = float(m(r, c));
            d->sized = d->sized || std::abs(m.col(0).squaredNorm() - 1) > tolerance::alike;
            const Vec3 at = (m * centre.homogeneous()).head<3>() - origin;
            f[12] = float(at.x()), f[13] = float(at.y()), f[14] = float(at.z()), f[15] = 1;
            const QRgb rgb = batch.colours[i];
            d->clear = d->clear || (qAlpha(rgb) > 2 && qAlpha(rgb) < 255);
            f[16] = float(qRed(rgb)) / 255, f[17] = float(qGreen(rgb)) / 255, f[18] = float(qBlue(rgb)) / 255,
            f[19] = float(qAlpha(rgb)) / 255;
        }
        m_drawn.push_back(std::move(d));
    }
}

void SceneRenderer::sort(const Camera& camera, bool light) {
    const Vec3 eye = camera.eye() - m_origin, back = camera.back(), right = camera.right(), up = camera.up();
    const double t = std::tan(Camera::kFieldOfView / 2), aspect = camera.width / camera.height;
    const double rise = camera.parallel ? 0 : std::tan(camera.shift());
    const double stretch = 1 / std::cos(camera.shift()); // off the axis of the lens everything is larger
    for (auto& d : m_drawn) {
        const MeshBuffers& b = buffersOf(d->mesh, d->ground);
        d->near.clear();
        d->medium.clear();
        d->far.clear();
        d->dots.clear();
        const bool fine = b.triangles > 40;
        double lastX = kFar, lastY = kFar;
        const float* last = nullptr;
        for (size_t i = 0; i < d->instances.size(); i += kFloats) {
            const float* f = d->instances.data() + i;
            const Vec3 p = Vec3(f[12], f[13], f[14]) - eye;
            const double depth = -p.dot(back), half = camera.parallel ? camera.distance * t : depth * t;
            const double radius = d->sized ? b.radius * Vec3(f[0], f[1], f[2]).norm() : b.radius;
            if (!camera.parallel && depth < -radius) continue;
            const double margin = radius * 1.6;
            if (std::abs(p.dot(right)) > half * aspect + margin || std::abs(p.dot(up) + rise * depth) > half + margin)
                continue;
            // Neighbours that fall into the same half pixel and look the same are one: nobody can tell, and a million
            // places stay quick. What is selected or left out has another colour and is always drawn.
            const double perPixel = 2 * std::max(half, tolerance::rounding) / camera.height,
                         x = p.dot(right) / perPixel, y = (p.dot(up) + rise * depth) / perPixel;
            if (last && std::abs(x - lastX) + std::abs(y - lastY) < 0.5 && std::equal(last + 16, last + 20, f + 16))
                continue;
            last = f;
            lastX = x;
            lastY = y;
            const double pixels = stretch * 2 * radius * camera.height / (2 * std::max(half, tolerance::rounding));
            const bool simple = b.simpleVertices > 0 && pixels < (light ? 500 : 160);
            auto& list = pixels < 2                                                           ? d->dots
                         : fine && pixels < (light ? 40 : 14)                                 ? d->far
                         : simple || (light && b.simpleVertices > 0 && b.triangles > 200'000) ? d->medium
                                                                                              : d->near;
            list.insert(list.end(), f, f + kFloats);
        }
    }
}

void SceneRenderer::drawInstances(unsigned vao, unsigned mode, int vertices, const std::vector<float>& instances) {
    if (instances.empty() || vertices == 0) return;
    m_gl->glBindBuffer(GL_ARRAY_BUFFER, m_instanceBuffer);
    m_gl->glBufferData(GL_ARRAY_BUFFER, GLsizeiptr(instances.size() * 4), instances.data(), GL_STREAM_DRAW);
    m_gl->glBindVertexArray(vao);
    m_gl->glDrawArraysInstanced(mode, 0, vertices, int(instances.size() / kFloats));
}

void SceneRenderer::setGrid(const std::vector<Vec3>& ends, const QColor& colour, double reach) {
    if (!m_gl) return;
    std::vector<float> f;
    for (const auto& p : ends)
        for (int i = 0; i < 3; ++i) f.push_back(float(p[i] - m_origin[i]));
    m_gridVertices = int(ends.size());
    m_gridColour = colour;
    m_gridReach = reach;
    m_gl->glBindVertexArray(m_gridVao);
    m_gl->glBindBuffer(GL_ARRAY_BUFFER, m_gridBuffer);
    m_gl->glBufferData(GL_ARRAY_BUFFER, GLsizeiptr(f.size() * 4), f.data(), GL_STREAM_DRAW);
    m_gl->glEnableVertexAttribArray(0);
    m_gl->glVertexAttribPointer(0, 3, GL_FLOAT, GL_FALSE, 12, nullptr);
    m_gl->glBindVertexArray(0);
}

void SceneRenderer::draw(const Camera& camera, const Box3& bounds, bool light) {
    if (!m_gl) return;
    // Before any new one is made: a new mesh may stand where a forgotten one stood.
    dropMeshes([](const MeshBuffers& b) { return b.mesh.expired(); });
    for (auto& d : m_drawn) buffersOf(d->mesh, d->ground);
    takeSimpler();
    sort(camera, light);
    const QMatrix4x4 matrix = toQt(camera.matrix(m_origin, bounds));
    drawGround(camera, matrix);
    const size_t shown = drawFaces(camera, matrix);
    if (!light || shown <= kManyBodies) drawEdges(camera, matrix, light);
    m_gl->glEnable(GL_PROGRAM_POINT_SIZE);
    m_dots->bind();
    m_dots->setUniformValue("camera", matrix);
    for (auto& d : m_drawn) drawInstances(buffersOf(d->mesh, d->ground).faceVao, GL_POINTS, 1, d->dots);
    m_gl->glBindVertexArray(0);
    m_gl->glBindBuffer(GL_ARRAY_BUFFER, 0);
    m_gl->glDisable(GL_DEPTH_TEST);
    m_gl->glUseProgram(0);
}

void SceneRenderer::drawEdges(const Camera& camera, const QMatrix4x4& matrix, bool light) {
    m_edges->bind();
    m_edges->setUniformValue("camera", matrix);
    m_edges->setUniformValue("push", camera.parallel ? 0.0f : 2e-6f);
    for (auto& d : m_drawn) {
        const MeshBuffers& b = buffersOf(d->mesh, d->ground);
        // Edges of what is only a few pixels wide would paint it black.
        Vec3 sizes = d->mesh->box.sizes();
        std::sort(sizes.data(), sizes.data() + 3);
        m_edges->setUniformValue("weight", float(std::clamp(sizes[1] / camera.scale() / 14, 0.12, 0.85)));
        drawInstances(b.edgeVao, GL_LINES, b.edgeVertices, d->near);
        drawInstances(b.edgeVao, GL_LINES, b.edgeVertices, d->medium);
        if (!light) drawInstances(b.boxEdgeVao, GL_LINES, b.boxEdgeVertices, d->far);
    }
}

size_t SceneRenderer::drawFaces(const Camera& camera, const QMatrix4x4& matrix) {
    // The sun stands over the viewer's left shoulder, so that the sides seen differ in tone whichever way one looks.
    const Vec3 sun = (camera.back() * 0.55 - camera.right() * 0.55 + Vec3::UnitZ() * 0.75).normalized();
    const Vec3 back = camera.back();
    m_faces->bind();
    m_faces->setUniformValue("camera", matrix);
    m_faces->setUniformValue("light", float(sun.x()), float(sun.y()), float(sun.z()));
    m_faces->setUniformValue("back", float(back.x()), float(back.y()), float(back.z()));
    m_faces->setUniformValue("soft", m_soft ? 1.0f : 0.0f);
    m_gl->glEnable(GL_POLYGON_OFFSET_FILL);
    m_gl->glPolygonOffset(1, 1);
    size_t shown = 0;
    const auto faces = [&](bool clear) {
        for (auto& d : m_drawn) {
            if (d->clear != clear) continue;
            const MeshBuffers& b = buffersOf(d->mesh, d->ground);
            drawInstances(b.faceVao, GL_TRIANGLES, b.faceVertices, d->near);
            drawInstances(b.simpleVao, GL_TRIANGLES, b.simpleVertices, d->medium);
            drawInstances(b.boxFaceVao, GL_TRIANGLES, b.boxFaceVertices, d->far);
            shown += (d->near.size() + d->medium.size() + d->far.size()) / kFloats;
        }
    };
    faces(false);
    m_gl->glDepthMask(GL_FALSE); // what is behind the see-through shows, its own back too
    faces(true);
    m_gl->glDepthMask(GL_TRUE);
    m_gl->glDisable(GL_POLYGON_OFFSET_FILL);
    return shown;
}

/// Sky, and the lines of the ground.
void SceneRenderer::drawGround(const Camera& camera, const QMatrix4x4& matrix) {
    m_gl->glDisable(GL_DEPTH_TEST);
    m_gl->glDisable(GL_CULL_FACE);
    m_gl->glDisable(GL_BLEND);
    if (m_background) {
        m_sky->bind();
        m_sky->setUniformValue("top", float(m_skyTop.redF()), float(m_skyTop.greenF()), float(m_skyTop.blueF()));
        m_sky->setUniformValue("bottom", float(m_skyBottom.redF()), float(m_skyBottom.greenF()),
                               float(m_skyBottom.blueF()));
        m_gl->glBindVertexArray(m_skyVao);
        m_gl->glDrawArrays(GL_TRIANGLES, 0, 3);
    }
    m_gl->glEnable(GL_DEPTH_TEST);
    m_gl->glEnable(GL_BLEND);
    // The picture itself stays opaque: it is laid over the window. Without a background what is drawn makes it so.
    if (m_background)
        m_gl->glBlendFuncSeparate(GL_SRC_ALPHA, GL_ONE_MINUS_SRC_ALPHA, GL_ZERO, GL_ONE);
    else
        m_gl->glBlendFuncSeparate(GL_SRC_ALPHA, GL_ONE_MINUS_SRC_ALPHA, GL_ONE, GL_ONE_MINUS_SRC_ALPHA);

    m_ground->bind();
    m_ground->setUniformValue("camera", matrix);
    const Vec3 centre = camera.target - m_origin;
    m_ground->setUniformValue("centre", float(centre.x()), float(centre.y()), float(centre.z()));
    m_ground->setUniformValue("reach", float(m_gridReach));
    m_ground->setUniformValue("paint", m_gridColour);
    m_gl->glDepthMask(GL_FALSE);
    m_gl->glBindVertexArray(m_gridVao);
    m_gl->glDrawArrays(GL_LINES, 0, m_gridVertices);
    m_gl->glDepthMask(GL_TRUE);
}

} // namespace vicinal
