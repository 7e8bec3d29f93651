#include "io/scene_bytes.h"

#include "core/words/say.h"
#include "io/bytes.h"

namespace hobble {

namespace {

void write(ByteWriter& w, const Transform& t) {
    for (Eigen::Index r = 0; r < 3; ++r)
        for (Eigen::Index c = 0; c < 4; ++c)
            w.number(t.matrix()(r, c));
}

Transform readTransform(ByteReader& r) {
    Transform t = Transform::Identity();
    for (Eigen::Index i = 0; i < 3; ++i)
        for (Eigen::Index c = 0; c < 4; ++c)
            t.matrix()(i, c) = r.number<double>();
    return t;
}

void write(ByteWriter& w, const ClipChannel& ch) {
    w.number(ch.joint);
    w.number(ch.part);
    w.number(static_cast<int>(ch.path));
    w.number(static_cast<int>(ch.blend));
    w.list(ch.time);
    w.list(ch.value);
}

ClipChannel readChannel(ByteReader& r) {
    ClipChannel ch;
    ch.joint = r.number<int>();
    ch.part = r.number<int>();
    ch.path = static_cast<ClipChannel::Path>(std::clamp(r.number<int>(), 0, 3));
    ch.blend = static_cast<ClipChannel::Blend>(std::clamp(r.number<int>(), 0, 2));
    r.list(ch.time);
    r.list(ch.value);
    return ch;
}

void write(ByteWriter& w, const SceneBlock& b) {
    w.list(b.position);
    w.list(b.colour);
    w.list(b.firstInfluence);
    w.number(static_cast<std::uint64_t>(b.influence.size()));
    for (const auto& [joint, weight] : b.influence) {
        w.number(joint);
        w.number(weight);
    }
    w.number(static_cast<char>(b.weighted));
    w.number(static_cast<std::uint64_t>(b.targets.size()));
    for (const ShapeTarget& t : b.targets) {
        w.word(t.name);
        w.list(t.vertex);
        w.list(t.delta);
    }
    w.number(b.primitive);
}

SceneBlock readBlock(ByteReader& r) {
    SceneBlock b;
    r.list(b.position);
    r.list(b.colour);
    r.list(b.firstInfluence);
    b.influence.resize(r.count(8));
    for (auto& [joint, weight] : b.influence) {
        joint = r.number<std::uint32_t>();
        weight = r.number<float>();
    }
    b.weighted = r.number<char>() != 0;
    b.targets.resize(r.count(24));
    for (ShapeTarget& t : b.targets) {
        t.name = r.word();
        r.list(t.vertex);
        r.list(t.delta);
    }
    b.primitive = r.number<int>();
    return b;
}

void require(bool good) {
    if (!good)
        throw Refused{say("what was read of it does not fit together")};
}

bool within(int index, std::size_t size) { return index >= -1 && index < static_cast<int>(size); }

void check(const FileScene& s) {
    for (const SceneNode& n : s.nodes)
        require(within(n.parent, s.nodes.size()));
    require(s.isJoint.empty() || s.isJoint.size() == s.nodes.size());
    for (const SceneSkin& k : s.skins) {
        require(k.inverseBind.size() == k.joints.size() && within(k.meshNode, s.nodes.size()));
        for (int j : k.joints)
            require(j >= 0 && within(j, s.nodes.size()));
    }
    for (const ScenePart& p : s.parts) {
        require(within(p.node, s.nodes.size()) && within(p.skin, s.skins.size()));
        for (const SceneBlock& b : p.blocks) {
            const std::size_t vertices = b.position.size();
            require(b.colour.size() == vertices || b.colour.empty());
            require(b.firstInfluence.size() == vertices + 1 || !b.weighted);
            for (std::size_t v = 0; v + 1 < b.firstInfluence.size(); ++v)
                require(b.firstInfluence[v] <= b.firstInfluence[v + 1]);
            require(b.firstInfluence.empty() || b.firstInfluence.back() <= b.influence.size());
            for (const auto& [joint, weight] : b.influence)
                require(p.skin >= 0 && joint < s.skins[static_cast<std::size_t>(p.skin)].joints.size());
            for (const ShapeTarget& t : b.targets) {
                require(t.vertex.size() == t.delta.size());
                for (std::uint32_t v : t.vertex)
                    require(v < vertices);
            }
        }
        for (const ScenePaint& paint : p.paint)
            require(within(paint.texture, s.textures.size()));
        for (const auto& [block, triangles] : p.triangles) {
            require(block < p.blocks.size());
            for (const Triangle& t : triangles)
                for (std::uint32_t v : t)
                    require(v < p.blocks[block].position.size());
        }
    }
    for (const SceneClip& c : s.clips)
        for (const SceneChannel& h : c.channels)
            require(within(h.node, s.nodes.size()));
}

} // namespace

std::string packScene(const ImportedScene& imported) {
    const FileScene& s = imported.scene;
    ByteWriter w;
    w.maybe(imported.metresPerUnit);
    w.number(static_cast<char>(imported.turned.has_value()));
    if (imported.turned)
        for (Eigen::Index k = 0; k < 9; ++k)
            w.number((*imported.turned)(k));
    const auto count = [&](std::size_t n) { w.number(static_cast<std::uint64_t>(n)); };
    count(s.nodes.size());
    for (const SceneNode& n : s.nodes) {
        w.word(n.name);
        w.number(n.parent);
        write(w, n.local);
        w.word(n.humanoidBone);
    }
    count(s.skins.size());
    for (const SceneSkin& k : s.skins) {
        w.list(k.joints);
        count(k.inverseBind.size());
        for (const Transform& t : k.inverseBind)
            write(w, t);
        w.number(static_cast<char>(k.given));
        w.number(k.meshNode);
    }
    w.list(s.isJoint);
    count(s.parts.size());
    for (const ScenePart& p : s.parts) {
        w.word(p.name);
        w.number(p.node);
        w.number(p.skin);
        count(p.blocks.size());
        for (const SceneBlock& b : p.blocks)
            write(w, b);
        count(p.triangles.size());
        for (const auto& [block, triangles] : p.triangles) {
            count(block);
            w.list(triangles);
        }
        count(p.paint.size());
        for (const ScenePaint& paint : p.paint) {
            w.number(paint.texture);
            w.list(paint.corners);
        }
        w.list(p.targetWeights);
    }
    count(s.clips.size());
    for (const SceneClip& c : s.clips) {
        w.word(c.name);
        count(c.channels.size());
        for (const SceneChannel& h : c.channels) {
            w.number(h.node);
            write(w, h.values);
        }
        count(c.left);
        count(c.marks.size());
        for (const ClipMark& m : c.marks) {
            w.number(m.seconds);
            w.word(m.name);
            w.word(m.motion);
            w.number(m.at);
        }
    }
    count(s.textures.size());
    for (const Texture& t : s.textures) {
        w.word(t.name);
        w.word(*t.picture);
        for (Texture::Beyond beyond : t.beyond)
            w.number(static_cast<char>(beyond));
        w.number(t.cutoff);
    }
    count(s.notes.size());
    for (const std::string& note : s.notes)
        w.word(note);
    return std::move(w.bytes);
}

ImportedScene unpackScene(std::string_view bytes) {
    ByteReader r(bytes);
    ImportedScene out;
    FileScene& s = out.scene;
    r.maybe(out.metresPerUnit);
    if (r.number<char>()) {
        Eigen::Matrix3d turned;
        for (Eigen::Index k = 0; k < 9; ++k)
            turned(k) = r.number<double>();
        out.turned = turned;
    }
    s.nodes.resize(r.count(100));
    for (SceneNode& n : s.nodes) {
        n.name = r.word();
        n.parent = r.number<int>();
        n.local = readTransform(r);
        n.humanoidBone = r.word();
    }
    s.skins.resize(r.count(21));
    for (SceneSkin& k : s.skins) {
        r.list(k.joints);
        k.inverseBind.resize(r.count(96));
        for (Transform& t : k.inverseBind)
            t = readTransform(r);
        k.given = r.number<char>() != 0;
        k.meshNode = r.number<int>();
    }
    r.list(s.isJoint);
    s.parts.resize(r.count(40));
    for (ScenePart& p : s.parts) {
        p.name = r.word();
        p.node = r.number<int>();
        p.skin = r.number<int>();
        p.blocks.resize(r.count(45));
        for (SceneBlock& b : p.blocks)
            b = readBlock(r);
        p.triangles.resize(r.count(16));
        for (auto& [block, triangles] : p.triangles) {
            block = r.number<std::uint64_t>();
            r.list(triangles);
        }
        p.paint.resize(r.count(12));
        for (ScenePaint& paint : p.paint) {
            paint.texture = r.number<int>();
            r.list(paint.corners);
        }
        r.list(p.targetWeights);
    }
    s.clips.resize(r.count(32));
    for (SceneClip& c : s.clips) {
        c.name = r.word();
        c.channels.resize(r.count(36));
        for (SceneChannel& h : c.channels) {
            h.node = r.number<int>();
            h.values = readChannel(r);
        }
        c.left = r.number<std::uint64_t>();
        c.marks.resize(r.count(32));
        for (ClipMark& m : c.marks) {
            m.seconds = r.number<double>();
            m.name = r.word();
            m.motion = r.word();
            m.at = r.number<double>();
        }
    }
    s.textures.resize(r.count(22));
    for (Texture& t : s.textures) {
        t.name = r.word();
        t.picture = std::make_shared<const std::string>(r.word());
        for (Texture::Beyond& beyond : t.beyond)
            beyond = static_cast<Texture::Beyond>(std::clamp<int>(r.number<char>(), 0, 2));
        t.cutoff = r.number<float>();
    }
    s.notes.resize(r.count(8));
    for (std::string& note : s.notes)
        note = r.word();
    require(r.done());
    check(s);
    return out;
}

} // namespace hobble
