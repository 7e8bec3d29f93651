#include "story/defect_pose.h"

#include "core/intake/telling_pose.h"
#include "core/pose/compound_poses.h"
#include "log/finding_defect.h"

#include <QJsonArray>
#include <QJsonDocument>
#include <QJsonObject>

namespace hobble {

Pose poseOf(const DefectFacts& facts, const Character& c) {
    Pose pose = Pose::neutral(c.skeleton);
    const QJsonObject kept = QJsonDocument::fromJson(facts.pose).object();
    for (const auto& value : kept.value(QStringLiteral("targets")).toArray()) {
        const QJsonObject t = value.toObject();
        for (std::size_t p = 0; p < c.parts.size(); ++p)
            for (std::size_t k = 0; k < c.parts[p].targets.size(); ++k)
                if (t.value(QStringLiteral("part")).toString().toStdString() == c.parts[p].name &&
                    t.value(QStringLiteral("target")).toString().toStdString() == c.parts[p].targets[k].name)
                    pose.targets.push_back({static_cast<int>(p), static_cast<int>(k),
                                            t.value(QStringLiteral("weight")).toDouble()});
    }
    const QJsonObject turns = kept.value(QStringLiteral("turns")).toObject();
    for (auto it = turns.begin(); it != turns.end(); ++it) {
        const int j = c.skeleton.find(it.key().toStdString());
        const QJsonArray q = it.value().toArray();
        if (j < 0 || q.size() != 4)
            continue;
        const Quat turn(q[3].toDouble(), q[0].toDouble(), q[1].toDouble(), q[2].toDouble());
        if (turn.norm() > 1e-6)
            pose.turn[static_cast<std::size_t>(j)] = turn.normalized();
    }
    return pose;
}

DefectMotion motionOf(const DefectFacts& facts, const Subject& s) {
    const Plan plan = fullPlan(*s.character, s.roles);
    const int joint = s.character->skeleton.find(facts.joint.toStdString());
    if (const int m = plan.find(facts.motion.toStdString()); m >= 0)
        return {plan.motions[static_cast<std::size_t>(m)], facts.degrees};
    Motion m = poseMotion(s.character->skeleton, "defect", "defect", Side::Middle,
                          poseOf(facts, *s.character), joint);
    if (m.turns.empty())
        m.turns.push_back({std::max(0, joint), Vec3d::UnitX(), 0});
    return {m, 100};
}

DefectFacts inTellingPose(const DefectFacts& facts, const Subject& s, const Progress& progress) {
    if (!foundByIntake(facts))
        return facts;
    std::vector<std::uint32_t> marked;
    for (const Part& part : s.character->parts)
        for (std::uint32_t v : markedVertices(facts, part.name))
            if (v < part.vertexCount)
                marked.push_back(part.firstVertex + v);
    const Plan plan = fullPlan(*s.character, s.roles);
    const auto found =
        tellingPose(s, plan, marked, s.character->skeleton.find(facts.joint.toStdString()), progress);
    if (!found)
        return facts;
    const Motion& motion = plan.motions[static_cast<std::size_t>(found->motion)];
    DefectFacts out = facts;
    out.motion = QString::fromStdString(motion.id);
    out.motionName = QString::fromStdString(motion.name);
    out.degrees = motion.limit();
    out.at = QString::fromStdString(wordsFor(motion, motion.limit()));
    out.pose = keptPose(s, motion, motion.limit());
    return out;
}

std::vector<std::uint32_t> markedVertices(const DefectFacts& facts, const std::string& part) {
    std::vector<std::uint32_t> out;
    const QJsonObject parts =
        QJsonDocument::fromJson(facts.marks).object().value(QStringLiteral("parts")).toObject();
    for (const QJsonValue& v : parts.value(QString::fromStdString(part)).toArray())
        if (v.toInteger() >= 0)
            out.push_back(static_cast<std::uint32_t>(v.toInteger()));
    return out;
}

} // namespace hobble
