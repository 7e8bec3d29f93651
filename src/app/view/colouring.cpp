#include "app/view/colouring.h"

#include "app/theme.h"

#include <QCoreApplication>

#include <algorithm>
#include <cmath>

namespace hobble {

namespace {

QString tr(const char* text) { return QCoreApplication::translate("hobble", text); }

} // namespace

QString nameOf(Colouring c) {
    static const char* names[kColourings] = {QT_TRANSLATE_NOOP("hobble", "strain"),
                                             QT_TRANSLATE_NOOP("hobble", "area"),
                                             QT_TRANSLATE_NOOP("hobble", "shear"),
                                             QT_TRANSLATE_NOOP("hobble", "volume"),
                                             QT_TRANSLATE_NOOP("hobble", "pinch"),
                                             QT_TRANSLATE_NOOP("hobble", "contact depth"),
                                             QT_TRANSLATE_NOOP("hobble", "poke-through"),
                                             QT_TRANSLATE_NOOP("hobble", "gap"),
                                             QT_TRANSLATE_NOOP("hobble", "roughness"),
                                             QT_TRANSLATE_NOOP("hobble", "leak"),
                                             QT_TRANSLATE_NOOP("hobble", "lag"),
                                             QT_TRANSLATE_NOOP("hobble", "flip"),
                                             QT_TRANSLATE_NOOP("hobble", "pop"),
                                             QT_TRANSLATE_NOOP("hobble", "rigidity"),
                                             QT_TRANSLATE_NOOP("hobble", "unbound drift"),
                                             QT_TRANSLATE_NOOP("hobble", "side difference"),
                                             QT_TRANSLATE_NOOP("hobble", "wrong bend"),
                                             QT_TRANSLATE_NOOP("hobble", "left bare"),
                                             QT_TRANSLATE_NOOP("hobble", "through lid or lip"),
                                             QT_TRANSLATE_NOOP("hobble", "weight"),
                                             QT_TRANSLATE_NOOP("hobble", "influences"),
                                             QT_TRANSLATE_NOOP("hobble", "own colours")};
    return tr(names[static_cast<int>(c)]);
}

std::optional<Kind> kindOf(Colouring c) {
    switch (c) {
    case Colouring::Volume:
        return Kind::VolumeLoss;
    case Colouring::Pinch:
        return Kind::Pinch;
    case Colouring::Contact:
        return Kind::Contact;
    case Colouring::PokeThrough:
        return Kind::PokeThrough;
    case Colouring::Gap:
        return Kind::Gap;
    case Colouring::Roughness:
        return Kind::Roughness;
    case Colouring::Leak:
        return Kind::Leak;
    case Colouring::Lag:
        return Kind::Lag;
    case Colouring::Flip:
        return Kind::Flip;
    case Colouring::Pop:
        return Kind::Pop;
    case Colouring::SoftRigidPart:
        return Kind::SoftRigidPart;
    case Colouring::UnboundPart:
        return Kind::UnboundPart;
    case Colouring::OneSided:
        return Kind::OneSided;
    case Colouring::WrongBend:
        return Kind::WrongBend;
    case Colouring::NotClosed:
        return Kind::NotClosed;
    case Colouring::ThroughLid:
        return Kind::ThroughLid;
    default:
        return std::nullopt;
    }
}

ColourScale scaleOf(Colouring c, const Subject& s, const Limits& limits, int joint) {
    ColourScale out;
    const auto& weights = weightRamp();
    switch (c) {
    case Colouring::Strain:
        return scaleOf(Kind::Stretch, s, limits, joint);
    case Colouring::Area: { // no limit of its own: in steps that are even as ratios
        const LimitSteps less{0.8, 0.6, 0.4, 0.25}, more{1.25, 1.67, 2.5, 4};
        divergeInSteps(out, &less, &more);
        for (ColourStop& stop : out.stops)
            stop.severity = 0;
        out.below = tr("smaller");
        out.above = tr("larger");
        return out;
    }
    case Colouring::Shear:
        riseInSteps(out, Kind::Stretch, {1.5, 2.2, 3.2, 5});
        for (ColourStop& stop : out.stops)
            stop.severity = 0;
        out.above = tr("sheared");
        return out;
    case Colouring::Weight:
        for (std::size_t i = 0; i < weights.size(); ++i)
            out.stops.push_back({static_cast<double>(i) / 2, weights[i]});
        out.below = joint >= 0 && joint < s.character->skeleton.size()
                        ? QString::fromStdString(s.character->skeleton.name[std::size_t(joint)])
                        : QString();
        out.above = tr("weight");
        out.unit = 100;
        out.suffix = QStringLiteral(" %");
        out.decimals = 0;
        return out;
    case Colouring::Influences: // teal up to what an engine keeps, orange beyond
        for (int n = 1; n <= 4; ++n) {
            const double at = (n - 1) / 3.0 * 2;
            const auto i = std::min<std::size_t>(static_cast<std::size_t>(at), 1);
            const auto mix = static_cast<float>(at - static_cast<double>(i));
            const QColor &a = weights[i], &b = weights[i + 1];
            out.stops.push_back({double(n), QColor::fromRgbF(a.redF() + mix * (b.redF() - a.redF()),
                                                             a.greenF() + mix * (b.greenF() - a.greenF()),
                                                             a.blueF() + mix * (b.blueF() - a.blueF()))});
        }
        out.stops.push_back({5, moreRamp()[2]});
        out.stops.push_back({8, moreRamp()[3]});
        out.below = tr("joints");
        out.above = tr("influences");
        out.decimals = 0;
        return out;
    case Colouring::Own:
        return out;
    default:
        break;
    }
    return scaleOf(*kindOf(c), s, limits, joint);
}

std::vector<float> skinValuesFor(Colouring c, const PosedFrame& frame, const PosedDetail* detail,
                                 int weightJoint) {
    const Character& character = *frame.subject->character;
    const std::size_t count = character.vertexCount();
    if (const auto kind = kindOf(c)) {
        if (!detail || detail->kind != kind)
            return {};
        std::vector<float> out(count);
        for (std::size_t v = 0; v < count; ++v)
            out[v] = detail->values[frame.subject->surface.weldOf[v]];
        return out;
    }
    std::vector<float> out;
    const auto strains = [&](auto&& value) {
        out.reserve(count);
        for (const Strain& x : frame.strain)
            out.push_back(value(x));
    };
    switch (c) {
    case Colouring::Strain: // what is further from unchanged, as a ratio, decides
        strains([](const Strain& x) {
            return x.stretch > 1 && x.stretch * std::max(x.squash, 1e-6f) >= 1 ? x.stretch
                                                                               : std::min(x.squash, 1.f);
        });
        break;
    case Colouring::Area:
        strains([](const Strain& x) { return x.stretch * x.squash; });
        break;
    case Colouring::Shear:
        strains([](const Strain& x) { return x.stretch / std::max(x.squash, 1e-6f); });
        break;
    case Colouring::Influences:
        for (std::size_t v = 0; v < count; ++v)
            out.push_back(static_cast<float>(
                std::max(1u, character.weights.first[v + 1] - character.weights.first[v])));
        break;
    case Colouring::Weight:
        out.assign(count, 0);
        for (std::size_t v = 0; v < count; ++v)
            for (std::uint32_t i = character.weights.first[v]; i < character.weights.first[v + 1]; ++i)
                if (character.weights.joint[i] == weightJoint)
                    out[v] += character.weights.weight[i];
        break;
    default:
        break;
    }
    return out;
}

} // namespace hobble
