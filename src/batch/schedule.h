#pragma once
// A batch handed to an existing cluster: written as one task script and one merge script, and submitted as an
// array job with a merge that waits for it however it ends. Nothing of a scheduler is written here; what is
// asked of one is its documented command line (sbatch, squeue). A task is an ordinary batch of its share
// (taskOf), so what it tests is told, kept and known as anywhere.
#include "batch/batch_run.h"

#include <QProcess>
#include <QStringList>

namespace hobble {

enum class Scheduler { Slurm, Script }; // Script: written, and left to whatever runs jobs

struct ScheduleOptions {
    BatchOptions batch; // its program is the hobble-cli that tasks start, there as here
    Scheduler scheduler = Scheduler::Slurm;
    int tasks = 0;                        // at most; 0: one for each character, up to 1,000
    int threads = 1;                      // of each task
    std::vector<std::string> toScheduler; // handed to sbatch as they are: "--partition=night"
};

struct Scheduled {
    int characters = 0, known = 0, tasks = 0; // known: tested before, not asked for again
    QString folder;                           // of the scripts
    QString task, merge;                      // the scripts; no task where nothing is left to be tested
    QString taskJob, mergeJob;                // the scheduler's numbers; empty where it was not asked
};

/// What a task may take of a machine, told to the scheduler: from the size of the file, generously, and never
/// more than the batch allows.
struct TaskCost {
    int seconds = 0, megabytes = 0;
};
TaskCost costOfTask(const std::vector<BatchCharacter>& characters, const BatchOptions& options);

/// Share `task` of `tasks`, from 1: every so-manieth, so that long ones that lie together are shared out.
std::vector<BatchCharacter> taskOf(const std::vector<BatchCharacter>& characters, int task, int tasks);

/// Writes the scripts into the batch's folder and hands them over, where anything is left to be tested. An
/// error where they cannot be written, or the scheduler is not there or refuses, in its words; the scripts
/// stay.
Result<Scheduled> schedule(const std::vector<BatchCharacter>& characters, const ScheduleOptions& options);

struct ScheduleProgress {
    int done = 0, of = 0; // of the characters that were left to be tested
    QString waitsFor;     // why nothing runs, in the scheduler's word; empty while something does
};

/// Returns when the merge has ended; asks the scheduler every second. An error where it no longer answers, or
/// `cancel` was set: the jobs go on.
Result<Done> waitFor(const Scheduled& scheduled, const std::vector<BatchCharacter>& characters,
                     const ScheduleOptions& options,
                     const std::function<void(const ScheduleProgress&)>& progress);

} // namespace hobble
