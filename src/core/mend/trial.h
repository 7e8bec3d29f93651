#pragma once
// A trial: what a lead would do to a build, as a list of steps over it. The build is never overwritten; what
// the steps make of it is worked out again from the first step that is another one.
#include "core/compare/pairing.h"
#include "core/mend/step.h"

#include <memory>

namespace hobble {

/// What a trial is to mend, told so that it is found again in another run. All empty: the character as such.
struct TrialAim {
    std::string joint, motion; // a joint's name, a motion's id
    std::string kind;          // the sign that tells the fault, by its word: "stretch"
    long long defect = 0;      // in the log; 0: none yet
    bool operator==(const TrialAim&) const = default;
};

struct Trial {
    std::string name; // "elbow, softer"
    TrialAim aim;
    std::string build;               // hash of the file it was made on
    std::vector<std::string> locked; // joints whose shares no step touches
    std::vector<Step> steps;
    bool operator==(const Trial&) const = default;
};

/// What a step did, where it stands in the list.
struct StepEffect {
    bool applies = true;
    std::string why;                    // it does not
    std::vector<std::uint32_t> changed; // welded, ascending: whose shares are not what they were before it
    double most = 0;                    // the largest change of a share
    bool skeleton = false;              // a joint stands, turns or follows otherwise, or was added
    bool shapes = false;                // a shape, or what fades one in, is another
    bool any() const { return skeleton || shapes || !changed.empty(); }
};

/// A trial on one build. Keeps what each step made, so that a change at the end of a long list costs the end.
class TriedSteps {
public:
    explicit TriedSteps(std::shared_ptr<const Subject> subject);

    const Subject& subject() const { return *subject_; }
    /// A locked joint that is not there is passed over.
    void take(const Trial& trial);
    const Trial& trial() const { return trial_; }
    const std::vector<StepEffect>& effects() const { return effects_; } // one for each step
    const Shares& shares() const { return made_.back(); }               // of the whole list
    int worked() const { return worked_; } // steps the last take() had to work out
    /// The build with these weights, its joints moved as steps say; all else is shared with it.
    std::shared_ptr<const Character> character(std::size_t mostInfluences = 0) const;

private:
    std::shared_ptr<const Subject> subject_;
    Trial trial_;
    std::vector<Shares> made_;                           // before the first step, after the first, …
    std::vector<std::shared_ptr<const Character>> body_; // likewise, for its skeleton
    std::vector<StepEffect> effects_;
    int worked_ = 0;
};

/// The trial as it was, step by step back and forth.
class TrialHistory {
public:
    explicit TrialHistory(Trial start = {}) : states_{std::move(start)} {}
    const Trial& now() const { return states_[at_]; }
    void change(Trial trial); // forgets what was undone
    bool canUndo() const { return at_ > 0; }
    bool canRedo() const { return at_ + 1 < states_.size(); }
    void undo() { at_ -= canUndo(); }
    void redo() { at_ += canRedo(); }

private:
    std::vector<Trial> states_;
    std::size_t at_ = 0;
};

/// The same step on the other side of the body; `across` is pairMirrored. An error where a joint has no
/// mirror.
Result<Step> onOtherSide(const Step& step, const Subject& subject, const Pairing& across);

/// The same step on another mesh of the build: `back` is `to` found on `from`.
Step carriedOver(const Step& step, const Subject& from, const Subject& to, const Pairing& back);

} // namespace hobble
