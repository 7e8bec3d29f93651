#include "core/mend/trial.h"

#include "core/deform/detail_smoothing.h"
#include "core/words/say.h"

#include <algorithm>
#include <bit>
#include <cmath>
#include <cstdio>

namespace hobble {

namespace {

StepEffect effectOf(const Shares& before, const Shares& after) {
    StepEffect out;
    for (std::uint32_t v : after.changed()) {
        const ShareRow was = before.at(v), is = after.at(v);
        if (was == is)
            continue;
        out.changed.push_back(v);
        for (const ShareRow* row : {&was, &is})
            for (const Share& s : *row)
                out.most = std::max(out.most, std::abs(shareOf(was, s.joint) - shareOf(is, s.joint)));
    }
    return out;
}

// Vertices of one whose place on the other lies, by more than half, among those marked there.
std::vector<std::uint32_t> within(const Pairing& pairing, const Subject& other,
                                  const std::vector<std::uint32_t>& marked) {
    std::vector<char> in(other.surface.vertexCount(), 0);
    for (std::uint32_t v : marked)
        if (v < in.size())
            in[v] = 1;
    std::vector<std::uint32_t> out;
    for (std::uint32_t v = 0; v < pairing.place.size(); ++v) {
        const SkinPlace& place = pairing.place[v];
        if (!place.there())
            continue;
        float share = 0;
        for (std::size_t k = 0; k < 3; ++k)
            share += in[other.surface.triangles[place.triangle][k]] ? place.share[k] : 0;
        if (share > 0.5f)
            out.push_back(v);
    }
    return out;
}

} // namespace

TriedSteps::TriedSteps(std::shared_ptr<const Subject> subject) : subject_(std::move(subject)) {
    made_.emplace_back(*subject_);
    body_.push_back(subject_->character);
}

void TriedSteps::take(const Trial& trial) {
    std::size_t same = 0; // steps at the head of the list that are the same
    if (trial.locked == trial_.locked)
        while (same < trial.steps.size() && same < trial_.steps.size() &&
               trial.steps[same] == trial_.steps[same])
            ++same;
    else {
        std::vector<char> locked(static_cast<std::size_t>(subject_->character->skeleton.size()), 0);
        for (const std::string& name : trial.locked)
            if (const int j = subject_->character->skeleton.find(name); j >= 0)
                locked[static_cast<std::size_t>(j)] = 1;
        made_.assign(1, Shares(*subject_, std::move(locked)));
    }
    made_.erase(made_.begin() + static_cast<std::ptrdiff_t>(same) + 1, made_.end());
    body_.resize(same + 1);
    effects_.resize(same);
    trial_ = trial;
    worked_ = 0;
    for (std::size_t i = same; i < trial.steps.size(); ++i) {
        const Shares& before = made_.back();
        Shares after = before;
        StepEffect effect;
        std::shared_ptr<const Character> body = body_.back();
        if (trial.steps[i].on && changesBuild(trial.steps[i].kind)) {
            ++worked_;
            auto changed = std::make_shared<Character>(*body);
            if (trial.steps[i].kind == StepKind::Correct)
                changed->weights = before.ofFile();
            if (const auto done = apply(trial.steps[i], *subject_, *changed, after)) {
                effect = effectOf(before, after);
                effect.skeleton = changesSkeleton(trial.steps[i].kind);
                effect.shapes = !effect.skeleton;
                body = std::move(changed);
            } else {
                effect.applies = false;
                effect.why = done.error();
                after = before;
            }
        } else if (trial.steps[i].on) {
            ++worked_;
            if (const auto done = apply(trial.steps[i], *subject_, body->skeleton, after)) {
                effect = effectOf(before, after);
            } else {
                effect.applies = false;
                effect.why = done.error();
                after = before;
            }
        }
        effects_.push_back(std::move(effect));
        made_.push_back(std::move(after));
        body_.push_back(std::move(body));
    }
}

std::shared_ptr<const Character> TriedSteps::character(std::size_t mostInfluences) const {
    auto out = std::make_shared<Character>(*body_.back());
    out->weights = shares().ofFile(mostInfluences);
    const bool built = body_.back() != subject_->character;
    if (!built && out->weights == subject_->character->weights)
        return out;
    // told apart from the build: what is measured of it is its own
    std::uint64_t word = 14695981039346656037u; // FNV-1a
    const auto add = [&](std::uint64_t x) { word = (word ^ x) * 1099511628211u; };
    for (std::uint16_t j : out->weights.joint)
        add(j);
    for (float w : out->weights.weight)
        add(std::bit_cast<std::uint32_t>(w));
    if (built) {
        for (const Transform& t : out->skeleton.neutralWorld)
            for (double x : t.matrix().reshaped())
                add(std::bit_cast<std::uint64_t>(x));
        for (const Driver& d : out->drivers) {
            add(static_cast<std::uint64_t>(d.source * 4099 + d.joint));
            for (const DriverKey& k : d.keys) {
                add(std::bit_cast<std::uint64_t>(k.degrees));
                add(std::bit_cast<std::uint64_t>(k.out));
            }
        }
        for (const DualShare& share : out->extras.dualShare) {
            add(std::bit_cast<std::uint32_t>(share.ofLinear));
            add(std::bit_cast<std::uint32_t>(share.ofDual));
        }
        for (const auto& smoothing : out->extras.smoothing) {
            const SmoothingWish& w = smoothing->wish();
            add(static_cast<std::uint64_t>(w.passes) * 2 + w.holdBorders);
            add(std::bit_cast<std::uint64_t>(w.strength));
            for (const auto& [v, by] : w.where) {
                add(v);
                add(std::bit_cast<std::uint32_t>(by));
            }
        }
        for (const Part& part : out->parts)
            for (const ShapeTarget& t : part.targets)
                for (const Vec3& d : t.delta)
                    for (float x : d)
                        add(std::bit_cast<std::uint32_t>(x));
    }
    char text[24];
    std::snprintf(text, sizeof text, "+%016llx", static_cast<unsigned long long>(word));
    out->hash += text;
    return out;
}

void TrialHistory::change(Trial trial) {
    if (trial == now())
        return;
    states_.resize(++at_);
    states_.push_back(std::move(trial));
}

Result<Step> onOtherSide(const Step& step, const Subject& subject, const Pairing& across) {
    if (!subject.mirror.found)
        return Error{say("this character has no plane it is mirrored at")};
    Step out = step;
    const Skeleton& skeleton = subject.character->skeleton;
    for (std::string* name : {&out.joint, &out.to, &out.place.joint}) {
        if (name->empty())
            continue;
        const int joint = skeleton.find(*name);
        const int other = joint < 0 ? -1 : across.joints.other[static_cast<std::size_t>(joint)];
        if (other < 0)
            return Error{say("%s has no other side", *name)};
        *name = skeleton.name[static_cast<std::size_t>(other)];
    }
    out.place.vertices = within(across, subject, step.place.vertices);
    for (Vec3& p : out.place.path)
        p = subject.mirror.mirrored(p.cast<double>()).cast<float>();
    if (step.kind == StepKind::Pivot || step.kind == StepKind::Copy || step.kind == StepKind::Helper)
        out.at = subject.mirror.mirrored(step.at);
    const Vec3d none = subject.mirror.mirrored(Vec3d::Zero());
    out.move = subject.mirror.mirrored(step.move) - none;
    out.axis = none - subject.mirror.mirrored(step.axis); // what turns about it goes the other way round
    if (step.kind == StepKind::TurnAxes) { // an axis is mirrored as what turns about it: the other way round
        out.at = subject.mirror.mirrored(step.at) - subject.mirror.mirrored(Vec3d::Zero());
        out.amount = -step.amount;
    }
    return out;
}

Step carriedOver(const Step& step, const Subject& from, const Subject& to, const Pairing& back) {
    Step out = step;
    out.place.vertices = within(back, from, step.place.vertices);
    if (back.joints.sameBody) {
        const Transform there = back.joints.toOther.inverse();
        for (Vec3& p : out.place.path)
            p = (there * p.cast<double>()).cast<float>();
        if (step.kind == StepKind::Pivot || step.kind == StepKind::Copy || step.kind == StepKind::Helper)
            out.at = there * step.at;
        out.move = there.linear() * step.move;
        out.axis = unitOrZero(there.linear() * step.axis);
        if (step.kind == StepKind::TurnAxes)
            out.at = there.linear() * step.at;
        out.place.radius /= back.joints.scale > 0 ? back.joints.scale : 1;
    }
    for (std::string* name : {&out.joint, &out.to, &out.place.joint}) {
        const int joint = name->empty() ? -1 : from.character->skeleton.find(*name);
        const auto& other = back.joints.other;
        const auto here = joint < 0 ? other.end() : std::find(other.begin(), other.end(), joint);
        if (here != other.end())
            *name = to.character->skeleton.name[static_cast<std::size_t>(here - other.begin())];
    }
    return out;
}

} // namespace hobble
