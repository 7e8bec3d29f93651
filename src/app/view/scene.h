#pragma once
// What the viewport draws with: buffers on the graphics side and the few shaders. Positions are uploaded once
// per pose, colours once per measure, index lists when what is shown changes. All calls need the viewport's
// context to be current.
#include "picture/texture_pictures.h"

#include <QMatrix4x4>
#include <QOpenGLBuffer>
#include <QOpenGLFunctions_3_3_Core>
#include <QOpenGLShaderProgram>
#include <QOpenGLTexture>
#include <QOpenGLVertexArrayObject>
#include <QVector4D>

#include <memory>
#include <vector>

namespace hobble {

struct SceneLook {
    QMatrix4x4 view, clip; // clip: projection · view
    bool wire = false, vertices = false, patch = true, contactLines = true;
    bool plain = false; // the mesh itself, without its textures and in place of the smooth one
};

class Scene : protected QOpenGLFunctions_3_3_Core {
public:
    bool initialise(); // false when the driver did not take the shaders
    void destroy();

    using Points = std::vector<Vec3>;
    using Triangles = std::vector<Triangle>;
    void setShown(const Triangles& triangles);
    void setFrame(const Points& positions, const Points& normals);
    void setColours(const Points& rgb);
    /// As it is drawn without its textures, after `setColours`.
    void setPlainColours(const Points& rgb);
    /// The mesh as its textures want it, drawn in its place; frames and colours are set as before. Null:
    /// none.
    void setPainted(std::shared_ptr<const PaintedSkin> painted, const std::vector<Texture>& textures);
    /// Which of its triangles are drawn, flagged by the file's triangle.
    void setPaintedShown(const std::vector<char>& fileTriangles);
    /// Drawn in place of the mesh, whose vertices stay visible; without triangles, the mesh itself is.
    void setSmooth(const Triangles& triangles, const Points& positions, const Points& normals,
                   const Points& rgb);
    void setGhost(const Points& positions, const Points& normals); // of the mesh; empty for none
    void setPatch(const Points& corners, const Points& outline);   // of triangles; ends of segments
    void setMarked(const Triangles& triangles);
    void setContactLines(const Points& ends);

    void draw(const SceneLook& look);
    /// What the shown triangles measure in depth, 0 near … 1 far, from the bottom row up.
    std::vector<float> depth(const QMatrix4x4& clip, const QSize& size);

private:
    struct Mesh {
        QOpenGLVertexArrayObject array;
        QOpenGLBuffer positions, normals, colours, triangles{QOpenGLBuffer::IndexBuffer};
        int count = 0; // indices
    };
    struct Overlay { // on the mesh's own positions
        QOpenGLVertexArrayObject array;
        QOpenGLBuffer indices{QOpenGLBuffer::IndexBuffer};
        int count = 0;
    };
    void drawOverlay(Overlay& overlay, unsigned mode, const QMatrix4x4& clip, float nearer,
                     const QVector4D& ink);
    void uploadPainted(QOpenGLBuffer& buffer, const Points& ofFile);
    void drawPainted(const SceneLook& look);
    QOpenGLShaderProgram meshProgram_, lineProgram_, ghostProgram_, paintedProgram_;
    Mesh mesh_, smooth_, ghost_, paintedMesh_;
    QOpenGLBuffer paintedUv_;
    std::shared_ptr<const PaintedSkin> painted_;
    std::vector<PaintedSkin::Run> paintedRuns_;             // of what is shown
    std::vector<float> cutoffs_;                            // per texture
    std::vector<std::unique_ptr<QOpenGLTexture>> textures_; // the last is white
    Points positions_, normals_, colours_;                  // of the file's vertices, as last set
    Overlay marked_;
    struct Lines { // or triangles, with positions of their own
        QOpenGLVertexArrayObject array;
        QOpenGLBuffer ends;
        int count = 0;
    };
    void drawLines(Lines& lines, float width, float nearer, const QVector4D& ink, unsigned mode);
    Lines patch_, outline_, contact_;
    bool ghostShown_ = false;
};

} // namespace hobble
