#include "story/proposal_of.h"

#include "core/judge/kind_facts.h"
#include "io/trial_json.h"

namespace hobble {

Proposal proposalOf(const Trial& trial, const std::vector<StepEffect>& effects, const MendEffect& effect,
                    const Subject& build, int number) {
    Proposal out;
    for (std::size_t i = 0; i < trial.steps.size(); ++i)
        if (trial.steps[i].on && (i >= effects.size() || effects[i].applies))
            out.steps << QString::fromStdString(sentence(trial.steps[i]));
    if (effect.joint >= 0) { // for a fault, not for nothing in particular
        out.kind = QLatin1String(factsOf(effect.kind).word);
        out.was = effect.was;
        out.is = effect.is;
        out.limit = effect.limit;
        out.gone = effect.gone();
    }
    out.sentence = QString::fromStdString(sentence(effect, build));
    out.build = number;
    out.trial = QByteArray::fromStdString(trialToJson(trial, build.surface));
    return out;
}

} // namespace hobble
