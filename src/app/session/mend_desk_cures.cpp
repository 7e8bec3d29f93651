// Cures for what the trial is for: searched for off the window's thread, shown, taken.
#include "app/session/mend_desk.h"

#include <algorithm>

namespace hobble {

void MendDesk::forgetCures() {
    ++searchTicket_;
    if (unwanted_)
        *unwanted_ = true; // nobody waits for it any more
    cures_.clear();
    nothing_.clear();
    searching_ = searched_ = false;
    emit curesChanged(QPrivateSignal());
}

void MendDesk::search() {
    if (!ready() || goal_.signs.empty() || searching_)
        return;
    const bool steps =
        std::any_of(trial_.steps.begin(), trial_.steps.end(), [](const Step& s) { return s.on; });
    if (steps && (!measured_ || measuring_))
        return; // it is searched on what they made, once that has been measured
    forgetCures();
    searching_ = true;
    unwanted_ = std::make_shared<std::atomic<bool>>(false);
    emit curesChanged(QPrivateSignal());
    jobs().start(
        tr("Searching what would help"),
        [this, on = on_, goal = goal_, done = trial_.steps, steps,
         now = steps ? measured_->now : ComparedSide{}, ticket = searchTicket_, limits = run_.limits(),
         known = measured(), unwanted = unwanted_](JobControl& control) -> std::function<void()> {
            CureOptions how;
            how.limits = limits;
            how.progress = progressOf(control);
            how.progress.tell = [&control, unwanted, tell = how.progress.tell](double share) {
                if (*unwanted)
                    control.cancelled = true;
                tell(share);
            };
            how.progress.at(0);
            how.found = [this, ticket](const Cure& c) {
                QMetaObject::invokeMethod(this, [this, ticket, c] {
                    if (ticket != searchTicket_)
                        return;
                    cures_.push_back(c);
                    emit curesChanged(QPrivateSignal());
                });
            };
            Cures found;
            if (!steps) {
                found = CureSearch(on->build(), on->plan(), on->run(), *known).search(goal, how);
            } else {
                // what is left of the fault, in the run of what the steps made
                CureGoal left;
                left.joint = goal.joint;
                left.causes = goal.causes;
                for (int sign : goal.signs) {
                    const Finding& f = on->run()->findings[static_cast<std::size_t>(sign)];
                    for (std::size_t i = 0; i < now.run->findings.size(); ++i)
                        if (const Finding& g = now.run->findings[i]; g.kind == f.kind && g.joint == f.joint)
                            left.signs.push_back(static_cast<int>(i));
                }
                if (left.signs.empty())
                    found.nothing = "nothing of it is left";
                else
                    found =
                        CureSearch(on->build(), done, now.subject,
                                   turnedAlike(on->plan(), *on->build()->character, *now.subject->character),
                                   now.run, on->memory())
                            .search(left, how);
            }
            return [this, ticket, found = std::move(found)] {
                if (ticket != searchTicket_)
                    return;
                cures_ = found.cures;
                nothing_ = QString::fromStdString(found.nothing);
                searching_ = false;
                searched_ = !found.stopped;
                emit curesChanged(QPrivateSignal());
            };
        });
}

void MendDesk::take(int cure) {
    if (cure < 0 || static_cast<std::size_t>(cure) >= cures_.size())
        return;
    const std::vector<Step> steps = cures_[static_cast<std::size_t>(cure)].steps;
    forgetCures();
    add(steps, tr("take a proposal"));
}

void MendDesk::showCure(int cure) {
    if (!on_ || cure == shownCure_ || cure >= static_cast<int>(cures_.size()))
        return;
    shownCure_ = cure;
    Trial trial = trial_;
    if (cure >= 0) {
        const auto& steps = cures_[static_cast<std::size_t>(cure)].steps;
        trial.steps.insert(trial.steps.end(), steps.begin(), steps.end());
    }
    ask(trial, true);
    emit curesChanged(QPrivateSignal());
}

void MendDesk::cureAll() {
    if (!ready())
        return;
    jobs().start(tr("Curing all that can be cured"),
                 [this, on = on_, limits = run_.limits(),
                  known = measured()](JobControl& control) -> std::function<void()> {
                     CureOptions how;
                     how.limits = limits;
                     how.progress = progressOf(control);
                     auto all = hobble::cureAll(on->build(), on->plan(), on->run(), *known, how);
                     return [this, on, all = std::move(all)] {
                         if (on != on_)
                             return;
                         if (all.trial.steps.empty())
                             return tell(all.stopped ? tr("Stopped before anything was cured.")
                                                     : tr("Nothing was found that helps and harms nothing."));
                         Trial trial = trial_;
                         trial.steps = all.trial.steps;
                         change(trial, tr("cure all that can be cured"));
                         tell((all.taken.size() == 1 ? tr("One cure taken; of %1 findings %2 are left.")
                                                     : tr("%n cures taken; of %1 findings %2 are left.",
                                                          nullptr, int(all.taken.size())))
                                  .arg(on->run()->findings.size())
                                  .arg(all.run->findings.size()));
                     };
                 });
}

} // namespace hobble
