#include "app/view/scene.h"

#include <QOpenGLFramebufferObject>

namespace hobble {

namespace {

const char* kMeshVertex = R"(#version 330 core
layout(location = 0) in vec3 position;
layout(location = 1) in vec3 normal;
layout(location = 2) in vec3 colour;
layout(location = 3) in vec2 place;
uniform mat4 toClip;
uniform mat4 toView;
out vec3 viewNormal;
out vec3 shade;
out vec2 at;
void main() {
    viewNormal = mat3(toView) * normal;
    shade = colour;
    at = place;
    gl_Position = toClip * vec4(position, 1.0);
})";

// A soft light over the left shoulder of whoever looks, so that form reads but the measure's colour stays
// itself.
const QByteArray kLight = R"(#version 330 core
in vec3 viewNormal;
in vec3 shade;
in vec2 at;
out vec4 result;
vec4 lit(vec3 colour) {
    vec3 n = viewNormal * inversesqrt(dot(viewNormal, viewNormal));
    if (!gl_FrontFacing) n = -n;
    float key = max(dot(n, vec3(-0.4130, 0.5966, 0.6883)), 0.0);
    float away = 1.0 - max(n.z, 0.0);
    return vec4(colour * (0.57 + 0.40 * key + 0.07 * n.y) - vec3(0.10 * away * away * away), 1.0);
}
)";
const QByteArray kMeshFragment = kLight + "void main() { result = lit(shade); }";

// Colours times what the texture shows; display values multiply as linear ones do.
const QByteArray kPaintedFragment = kLight + R"(
uniform sampler2D picture;
uniform float cutoff;
void main() {
    vec4 texel = texture(picture, at);
    if (texel.a < cutoff) discard;
    result = lit(shade * texel.rgb);
})";

// Dense where the surface turns away, so that a ghost is seen as its outline.
const char* kGhostFragment = R"(#version 330 core
in vec3 viewNormal;
in vec3 shade;
uniform vec4 ink;
out vec4 result;
void main() {
    float rim = 1.0 - abs(normalize(viewNormal).z);
    result = vec4(ink.rgb, ink.a * (0.10 + 0.90 * rim * rim));
})";

const char* kLineVertex = R"(#version 330 core
layout(location = 0) in vec3 position;
uniform mat4 toClip;
uniform float nearer;
void main() {
    gl_Position = toClip * vec4(position, 1.0);
    gl_Position.z -= nearer * gl_Position.w;
})";

const char* kLineFragment = R"(#version 330 core
uniform vec4 ink;
out vec4 result;
void main() { result = ink; })";

template <class T> void upload(QOpenGLBuffer& buffer, const std::vector<T>& data) {
    buffer.bind();
    buffer.allocate(data.data(), static_cast<int>(data.size() * sizeof(T)));
}

bool build(QOpenGLShaderProgram& program, const QByteArray& vertex, const QByteArray& fragment) {
    return program.addShaderFromSourceCode(QOpenGLShader::Vertex, vertex) &&
           program.addShaderFromSourceCode(QOpenGLShader::Fragment, fragment) && program.link();
}

} // namespace

bool Scene::initialise() {
    if (!initializeOpenGLFunctions() || !build(meshProgram_, kMeshVertex, kMeshFragment) ||
        !build(lineProgram_, kLineVertex, kLineFragment) ||
        !build(paintedProgram_, kMeshVertex, kPaintedFragment) ||
        !build(ghostProgram_, kMeshVertex, kGhostFragment))
        return false;
    const auto attribute = [this](QOpenGLBuffer& buffer, GLuint location, int numbers = 3) {
        buffer.bind();
        glEnableVertexAttribArray(location);
        glVertexAttribPointer(location, numbers, GL_FLOAT, GL_FALSE, 0, nullptr);
    };
    paintedUv_.create();
    for (Mesh* m : {&mesh_, &smooth_, &ghost_, &paintedMesh_}) {
        for (QOpenGLBuffer* b : {&m->positions, &m->normals, &m->colours, &m->triangles})
            b->create();
        m->array.create();
        const QOpenGLVertexArrayObject::Binder binder(&m->array);
        attribute(m->positions, 0);
        attribute(m->normals, 1);
        if (m != &ghost_)
            attribute(m->colours, 2);
        if (m == &paintedMesh_)
            attribute(paintedUv_, 3, 2);
        (m == &ghost_ ? mesh_ : *m).triangles.bind(); // a ghost shows what the mesh shows
    }
    marked_.indices.create();
    marked_.array.create();
    {
        const QOpenGLVertexArrayObject::Binder binder(&marked_.array);
        attribute(mesh_.positions, 0);
        marked_.indices.bind();
    }
    for (Lines* l : {&patch_, &outline_, &contact_}) {
        l->ends.create();
        l->array.create();
        const QOpenGLVertexArrayObject::Binder binder(&l->array);
        attribute(l->ends, 0);
    }
    return true;
}

void Scene::destroy() {
    textures_.clear();
    paintedUv_.destroy();
    for (Mesh* m : {&mesh_, &smooth_, &ghost_, &paintedMesh_}) {
        for (QOpenGLBuffer* b : {&m->positions, &m->normals, &m->colours, &m->triangles})
            b->destroy();
        m->array.destroy();
    }
    marked_.indices.destroy();
    marked_.array.destroy();
    for (Lines* l : {&patch_, &outline_, &contact_}) {
        l->ends.destroy();
        l->array.destroy();
    }
    for (QOpenGLShaderProgram* p : {&meshProgram_, &lineProgram_, &ghostProgram_, &paintedProgram_})
        p->removeAllShaders();
}

void Scene::setShown(const Triangles& triangles) {
    upload(mesh_.triangles, triangles);
    mesh_.count = static_cast<int>(triangles.size() * 3);
}

void Scene::setFrame(const Points& positions, const Points& normals) {
    upload(mesh_.positions, positions);
    upload(mesh_.normals, normals);
    positions_ = positions;
    normals_ = normals;
    uploadPainted(paintedMesh_.positions, positions_);
    uploadPainted(paintedMesh_.normals, normals_);
}

void Scene::setColours(const Points& rgb) {
    upload(mesh_.colours, rgb);
    colours_ = rgb;
    uploadPainted(paintedMesh_.colours, colours_);
}

void Scene::setPlainColours(const Points& rgb) { upload(mesh_.colours, rgb); }

void Scene::uploadPainted(QOpenGLBuffer& buffer, const Points& ofFile) {
    if (!painted_ || ofFile.empty())
        return;
    Points own;
    own.reserve(painted_->vertex.size());
    for (std::uint32_t v : painted_->vertex)
        own.push_back(v < ofFile.size() ? ofFile[v] : Vec3::Zero());
    upload(buffer, own);
}

void Scene::setPainted(std::shared_ptr<const PaintedSkin> painted, const std::vector<Texture>& textures) {
    if (painted == painted_)
        return;
    painted_ = std::move(painted);
    textures_.clear();
    cutoffs_.clear();
    paintedRuns_.clear();
    if (!painted_)
        return;
    upload(paintedUv_, painted_->uv);
    uploadPainted(paintedMesh_.positions, positions_);
    uploadPainted(paintedMesh_.normals, normals_);
    uploadPainted(paintedMesh_.colours, colours_);
    const auto wrap = [](Texture::Beyond beyond) {
        return beyond == Texture::Beyond::Clamp    ? QOpenGLTexture::ClampToEdge
               : beyond == Texture::Beyond::Mirror ? QOpenGLTexture::MirroredRepeat
                                                   : QOpenGLTexture::Repeat;
    };
    QImage white(1, 1, QImage::Format_RGBA8888);
    white.fill(Qt::white);
    for (std::size_t t = 0; t <= textures.size(); ++t) {
        const bool last = t == textures.size();
        auto texture = std::make_unique<QOpenGLTexture>(last ? white : (*painted_->pictures)[t]);
        texture->setMinificationFilter(QOpenGLTexture::LinearMipMapLinear);
        texture->setMagnificationFilter(QOpenGLTexture::Linear);
        if (!last) {
            texture->setWrapMode(QOpenGLTexture::DirectionS, wrap(textures[t].beyond[0]));
            texture->setWrapMode(QOpenGLTexture::DirectionT, wrap(textures[t].beyond[1]));
        }
        cutoffs_.push_back(last ? 0 : textures[t].cutoff);
        textures_.push_back(std::move(texture));
    }
}

void Scene::setPaintedShown(const std::vector<char>& fileTriangles) {
    if (!painted_)
        return;
    Triangles shown;
    paintedRuns_.clear();
    for (const PaintedSkin::Run& run : painted_->runs) {
        PaintedSkin::Run seen{run.texture, shown.size(), 0};
        for (std::size_t t = run.first; t < run.first + run.count; ++t)
            if (fileTriangles[painted_->fileTriangle[t]])
                shown.push_back(painted_->triangles[t]);
        seen.count = shown.size() - seen.first;
        paintedRuns_.push_back(seen);
    }
    upload(paintedMesh_.triangles, shown);
}

void Scene::drawPainted(const SceneLook& look) {
    const QOpenGLVertexArrayObject::Binder binder(&paintedMesh_.array);
    paintedProgram_.bind();
    paintedProgram_.setUniformValue("toClip", look.clip);
    paintedProgram_.setUniformValue("toView", look.view);
    paintedProgram_.setUniformValue("picture", 0);
    for (const PaintedSkin::Run& run : paintedRuns_) {
        if (run.count == 0)
            continue;
        const std::size_t t = run.texture < 0 ? textures_.size() - 1 : static_cast<std::size_t>(run.texture);
        textures_[t]->bind(0);
        paintedProgram_.setUniformValue("cutoff", cutoffs_[t]);
        glDrawElements(GL_TRIANGLES, static_cast<int>(3 * run.count), GL_UNSIGNED_INT,
                       reinterpret_cast<const void*>(run.first * sizeof(Triangle)));
        textures_[t]->release(0);
    }
}

void Scene::setSmooth(const Triangles& triangles, const Points& positions, const Points& normals,
                      const Points& rgb) {
    smooth_.count = static_cast<int>(triangles.size() * 3);
    if (triangles.empty())
        return;
    upload(smooth_.triangles, triangles);
    upload(smooth_.positions, positions);
    upload(smooth_.normals, normals);
    upload(smooth_.colours, rgb);
}

void Scene::setGhost(const Points& positions, const Points& normals) {
    ghostShown_ = !positions.empty();
    if (!ghostShown_)
        return;
    upload(ghost_.positions, positions);
    upload(ghost_.normals, normals);
}

void Scene::setPatch(const Points& corners, const Points& outline) {
    upload(patch_.ends, corners);
    patch_.count = static_cast<int>(corners.size());
    upload(outline_.ends, outline);
    outline_.count = static_cast<int>(outline.size());
}

void Scene::setMarked(const Triangles& triangles) {
    upload(marked_.indices, triangles);
    marked_.count = static_cast<int>(triangles.size() * 3);
}

void Scene::setContactLines(const Points& ends) {
    upload(contact_.ends, ends);
    contact_.count = static_cast<int>(ends.size());
}

void Scene::drawOverlay(Overlay& overlay, unsigned mode, const QMatrix4x4& clip, float nearer,
                        const QVector4D& ink) {
    if (overlay.count == 0)
        return;
    const QOpenGLVertexArrayObject::Binder binder(&overlay.array);
    lineProgram_.bind();
    lineProgram_.setUniformValue("toClip", clip);
    lineProgram_.setUniformValue("nearer", nearer);
    lineProgram_.setUniformValue("ink", ink);
    glDrawElements(mode, overlay.count, GL_UNSIGNED_INT, nullptr);
}

// The line program is bound, with its clip.
void Scene::drawLines(Lines& lines, float width, float nearer, const QVector4D& ink, unsigned mode) {
    if (lines.count == 0)
        return;
    const QOpenGLVertexArrayObject::Binder binder(&lines.array);
    lineProgram_.setUniformValue("nearer", nearer);
    lineProgram_.setUniformValue("ink", ink);
    glLineWidth(width);
    glDrawArrays(mode, 0, lines.count);
    glLineWidth(1);
}

void Scene::draw(const SceneLook& look) {
    const QVector4D ink(0.07f, 0.1f, 0.14f, 1);
    glEnable(GL_DEPTH_TEST);
    glDepthFunc(GL_LESS);
    glDisable(GL_BLEND);
    glDisable(GL_CULL_FACE);
    const bool smooth = smooth_.count > 0 && !look.plain;
    if (painted_ && !smooth && !look.plain) {
        drawPainted(look);
    } else {
        Mesh& m = smooth ? smooth_ : mesh_;
        const QOpenGLVertexArrayObject::Binder binder(&m.array);
        meshProgram_.bind();
        meshProgram_.setUniformValue("toClip", look.clip);
        meshProgram_.setUniformValue("toView", look.view);
        glDrawElements(GL_TRIANGLES, m.count, GL_UNSIGNED_INT, nullptr);
    }
    lineProgram_.bind();
    lineProgram_.setUniformValue("toClip", look.clip);
    lineProgram_.setUniformValue("ink", ink);
    if (look.wire || look.vertices) {
        const QOpenGLVertexArrayObject::Binder binder(&mesh_.array);
        lineProgram_.setUniformValue("nearer", smooth ? 0.0016f : 0.0004f);
        if (look.wire) {
            glPolygonMode(GL_FRONT_AND_BACK, GL_LINE);
            glDrawElements(GL_TRIANGLES, mesh_.count, GL_UNSIGNED_INT, nullptr);
            glPolygonMode(GL_FRONT_AND_BACK, GL_FILL);
        }
        if (look.vertices) {
            glPointSize(2.5f);
            glDrawElements(GL_POINTS, mesh_.count, GL_UNSIGNED_INT, nullptr);
        }
    }
    const float lift = smooth ? 0.0024f : 0.0012f;
    if (look.contactLines) // just under the skin is seen as well
        drawLines(contact_, 3, 0.004f, QVector4D(0.34f, 0.06f, 0.29f, 1), GL_LINES);
    glEnable(GL_BLEND);
    glBlendFunc(GL_SRC_ALPHA, GL_ONE_MINUS_SRC_ALPHA);
    glDepthMask(GL_FALSE);
    if (look.patch) { // a dark line between pale ones is seen on every colouring
        const QVector4D paper(0.99f, 0.98f, 0.95f, 1);
        drawLines(patch_, 1, lift, QVector4D(paper.toVector3D(), 0.24f), GL_TRIANGLES);
        drawLines(outline_, 4, lift, QVector4D(paper.toVector3D(), 0.8f), GL_LINES);
        drawLines(outline_, 1.5f, lift + 0.0004f, ink, GL_LINES);
    }
    drawOverlay(marked_, GL_TRIANGLES, look.clip, lift, QVector4D(0.08f, 0.47f, 0.37f, 0.62f));
    if (ghostShown_) {
        const QOpenGLVertexArrayObject::Binder binder(&ghost_.array);
        ghostProgram_.bind();
        ghostProgram_.setUniformValue("toClip", look.clip);
        ghostProgram_.setUniformValue("toView", look.view);
        ghostProgram_.setUniformValue("ink", QVector4D(0.97f, 0.96f, 0.93f, 0.75f));
        glDrawElements(GL_TRIANGLES, mesh_.count, GL_UNSIGNED_INT, nullptr);
    }
    glDepthMask(GL_TRUE);
    glDisable(GL_BLEND);
    glDisable(GL_DEPTH_TEST);
    glUseProgram(0);
}

std::vector<float> Scene::depth(const QMatrix4x4& clip, const QSize& size) {
    QOpenGLFramebufferObject target(size, QOpenGLFramebufferObject::Depth);
    target.bind();
    glViewport(0, 0, size.width(), size.height());
    glEnable(GL_DEPTH_TEST);
    glDepthFunc(GL_LESS);
    glClear(GL_COLOR_BUFFER_BIT | GL_DEPTH_BUFFER_BIT);
    {
        const QOpenGLVertexArrayObject::Binder binder(&mesh_.array);
        lineProgram_.bind();
        lineProgram_.setUniformValue("toClip", clip);
        lineProgram_.setUniformValue("nearer", 0.f);
        glDrawElements(GL_TRIANGLES, mesh_.count, GL_UNSIGNED_INT, nullptr);
    }
    std::vector<float> out(static_cast<std::size_t>(size.width()) * static_cast<std::size_t>(size.height()));
    glReadPixels(0, 0, size.width(), size.height(), GL_DEPTH_COMPONENT, GL_FLOAT, out.data());
    target.release();
    glDisable(GL_DEPTH_TEST);
    glUseProgram(0);
    return out;
}

} // namespace hobble
