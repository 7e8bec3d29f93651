// The Python module: hobble._core, which src/python/hobble/__init__.py hands on. Arrays are views of the
// character's own memory, which they keep alive; the interpreter's lock is let go while the core works; what
// the core says went wrong is raised as hobble.Error, in its words. docs/python.md
#include "core/judge/causes/cause.h"
#include "core/mend/cure.h"
#include "core/pose/compound_poses.h"
#include "core/pose/coverage.h"
#include "core/run/measured_memory.h"
#include "core/words/cause_words.h"
#include "core/words/finding_words.h"
#include "io/character_read.h"
#include "io/cure_json.h"
#include "io/file_write.h"
#include "io/gltf_edit.h"
#include "io/limits_json.h"
#include "io/naming_json.h"
#include "io/plan_json.h"
#include "io/run_json.h"
#include "log/defect_json.h"
#include "log/finding_defect.h"
#include "log/run_entry.h"
#include "story/defect_checks.h"

#include <QCoreApplication>
#include <QJsonArray>
#include <QJsonDocument>

#include <pybind11/functional.h>
#include <pybind11/numpy.h>
#include <pybind11/pybind11.h>
#include <pybind11/stl.h>

#include <exception>
#include <mutex>

namespace py = pybind11;

namespace hobble::python {

namespace {

struct Failure : std::runtime_error {
    using std::runtime_error::runtime_error;
};

template <class T> T orRaise(Result<T> r) {
    if (!r)
        throw Failure(r.error());
    return std::move(*r);
}

// Only read, and from several threads at once.
struct Opened {
    std::shared_ptr<const Subject> subject;
    const Character& c() const { return *subject->character; }
};

struct Planned {
    std::shared_ptr<const Subject> subject;
    Plan plan;
};

struct Ran {
    std::shared_ptr<const Subject> subject;
    Plan asked; // what is cured is measured again by it
    std::shared_ptr<const RunResult> result;
    std::shared_ptr<MeasuredMemory> known;
};

struct JointView {
    std::shared_ptr<const Subject> subject;
    int joint;
    const JointRole& role() const { return subject->roles[static_cast<std::size_t>(joint)]; }
};

struct MotionView {
    std::shared_ptr<const Planned> of;
    std::size_t motion;
    const Motion& get() const { return of->plan.motions[motion]; }
};

struct FindingView {
    std::shared_ptr<const Ran> of;
    std::size_t finding;
    const Finding& get() const { return of->result->findings[finding]; }
    const Motion& motion() const { return of->result->plan.motions[static_cast<std::size_t>(get().motion)]; }
};

struct FaultView {
    std::shared_ptr<const Ran> of;
    std::size_t fault;
    const Fault& get() const { return of->result->faults[fault]; }
    const Finding& sign() const { return of->result->findings[static_cast<std::size_t>(get().signs[0])]; }
};

struct CureView {
    std::shared_ptr<const Ran> of;
    Cure cure;
};

std::string jointName(const Subject& s, int joint) {
    return joint < 0 ? std::string() : s.character->skeleton.name[static_cast<std::size_t>(joint)];
}

// A view of memory that `owner` keeps alive; nobody writes through it.
template <class T> py::array view(const py::object& owner, const T* data, std::vector<py::ssize_t> shape) {
    py::array out(py::dtype::of<T>(), std::move(shape), data, owner);
    py::detail::array_proxy(out.ptr())->flags &= ~py::detail::npy_api::NPY_ARRAY_WRITEABLE_;
    return out;
}

// The array takes the vector over; its items are not copied.
py::array handedOver(std::vector<Vec3> positions) {
    auto* kept = new std::vector<Vec3>(std::move(positions));
    const py::capsule owner(kept, [](void* p) { delete static_cast<std::vector<Vec3>*>(p); });
    return py::array(py::dtype::of<float>(), std::vector<py::ssize_t>{py::ssize_t(kept->size()), 3},
                     kept->empty() ? nullptr : kept->front().data(), owner);
}

Skinning methodCalled(const std::string& word) {
    if (word == "linear")
        return Skinning::Linear;
    if (word == "dual-quaternion")
        return Skinning::DualQuaternion;
    throw Failure("there is no method '" + word + "': linear or dual-quaternion");
}

Opened open(const std::string& path, const std::optional<std::string>& naming) {
    const py::gil_scoped_release others;
    Character character = orRaise(readCharacter(path));
    std::map<std::string, RoleCorrection> corrections;
    if (naming)
        corrections = correctionsFor(orRaise(readNaming(*naming)), character.skeleton);
    return {std::make_shared<const Subject>(
        prepareSubject(std::make_shared<const Character>(std::move(character)), {}, corrections))};
}

std::shared_ptr<const Planned> plan(const Opened& o, bool singles) {
    const py::gil_scoped_release others;
    return std::make_shared<const Planned>(Planned{o.subject, singles ? defaultPlan(o.c(), o.subject->roles)
                                                                      : fullPlan(o.c(), o.subject->roles)});
}

using Told = std::function<py::object(std::size_t, std::size_t)>;

// `progress(done, of)` may say False to stop, and whatever it raises is raised.
std::shared_ptr<const Ran> run(const Opened& o, std::shared_ptr<const Planned> planned,
                               const std::string& method, int threads,
                               const std::optional<std::string>& limits, const Told& progress) {
    const Skinning how = methodCalled(method);
    if (planned && planned->subject != o.subject)
        throw Failure("the plan is of another character");
    if (!planned)
        planned = plan(o, false);
    auto out = std::make_shared<Ran>(Ran{o.subject, planned->plan, {}, std::make_shared<MeasuredMemory>()});
    RunOptions options;
    options.method = how;
    options.threads = threads;
    options.store = out->known.get();
    std::atomic<bool> stop{false};
    std::exception_ptr raised;
    options.cancel = &stop;
    if (progress)
        options.progress = [&](const RunProgress& p) {
            if (stop)
                return;
            const py::gil_scoped_acquire interpreter;
            try {
                const py::object goesOn = progress(p.done, p.total);
                stop = goesOn.is(py::bool_(false));
            } catch (...) {
                raised = std::current_exception();
                stop = true;
            }
        };
    {
        const py::gil_scoped_release others;
        if (limits)
            options.limits = orRaise(readLimits(*limits));
        out->result = std::make_shared<const RunResult>(runPlan(*o.subject, planned->plan, options));
    }
    if (raised)
        std::rethrow_exception(raised);
    return out;
}

py::array pose(const Opened& o, const std::map<std::string, std::array<double, 3>>& turns,
               const std::string& method) {
    const Skinning how = methodCalled(method);
    Pose pose = Pose::neutral(o.c().skeleton);
    for (const auto& [name, degrees] : turns) {
        const int joint = o.c().skeleton.find(name);
        if (joint < 0)
            throw Failure("there is no joint " + name);
        pose.turn[static_cast<std::size_t>(joint)] = turnXyz(degrees[0], degrees[1], degrees[2]);
    }
    std::vector<Vec3> positions;
    {
        const py::gil_scoped_release others;
        deform(o.c(), pose, how, positions);
    }
    return handedOver(std::move(positions));
}

std::vector<CureView> cure(const FaultView& f) {
    const py::gil_scoped_release others;
    const Ran& ran = *f.of;
    if (ran.result->cancelled)
        throw Failure("the run was stopped; a cure is measured against a whole one");
    const CureSearch search(ran.subject, ran.asked, ran.result, *ran.known);
    CureOptions options;
    options.limits = ran.result->limits;
    Cures found = search.search(goalOf(*ran.result, f.get()), options);
    std::vector<CureView> out;
    for (Cure& c : found.cures)
        out.push_back({f.of, std::move(c)});
    return out;
}

std::vector<std::string> saveCure(const CureView& v, const std::string& path) {
    const py::gil_scoped_release others;
    Trial trial;
    trial.build = v.of->subject->character->hash;
    trial.steps = v.cure.steps;
    TriedSteps tried(v.of->subject);
    tried.take(trial);
    const auto mended = tried.character();
    return orRaise(writeMended(*v.of->subject->character, *mended, path));
}

// Where a production log is. It is opened for each question, so that it may be asked from any thread.
struct Log {
    QString place;

    std::unique_ptr<ProductionLog> open() const {
        // What reads databases wants an application; a program that has its own keeps it.
        static std::once_flag once;
        std::call_once(once, [] {
            static int argc = 1;
            static char name[] = "hobble";
            static char* argv[] = {name, nullptr};
            if (!QCoreApplication::instance())
                new QCoreApplication(argc, argv); // as long as the interpreter
        });
        return orRaise(ProductionLog::open(place));
    }
    Build build(ProductionLog& log, const Character& c) const {
        return orRaise(log.build(QString::fromStdString(c.name), QString::fromStdString(c.hash),
                                 QString::fromStdString(c.source), QString::fromStdString(c.formerHash)));
    }
};

py::object fromJson(const std::string& text) { return py::module_::import("json").attr("loads")(text); }

} // namespace

} // namespace hobble::python

PYBIND11_MODULE(_core, m) {
    using namespace hobble;
    using namespace hobble::python;
    namespace self = hobble::python;
    m.attr("__version__") = HOBBLE_VERSION;
    py::register_exception<Failure>(m, "Error", PyExc_RuntimeError);

    py::class_<JointView>(m, "Joint", "A joint and what it was taken for.")
        .def_property_readonly("name", [](const JointView& j) { return jointName(*j.subject, j.joint); })
        .def_property_readonly("index", [](const JointView& j) { return j.joint; })
        .def_property_readonly("parent",
                               [](const JointView& j) -> std::optional<int> {
                                   const int p = j.subject->character->skeleton.parent[std::size_t(j.joint)];
                                   return p < 0 ? std::nullopt : std::optional(p);
                               })
        .def_property_readonly("role", [](const JointView& j) { return nameOf(j.role().role); })
        .def_property_readonly("side", [](const JointView& j) { return nameOf(j.role().side); })
        .def_property_readonly("words", [](const JointView& j) { return jointWords(*j.subject, j.joint); })
        .def_property_readonly("confidence", [](const JointView& j) { return j.role().confidence; })
        .def("__repr__", [](const JointView& j) {
            return "<hobble.Joint " + jointName(*j.subject, j.joint) + ": " +
                   jointWords(*j.subject, j.joint) + ">";
        });

    py::class_<CheckFinding>(m, "Check", "Something of a build that Intake found unfit.")
        .def_readonly("check", &CheckFinding::check)
        .def_readonly("severity", &CheckFinding::severity)
        .def_readonly("sentence", &CheckFinding::sentence)
        .def_readonly("advice", &CheckFinding::advice)
        .def_readonly("value", &CheckFinding::value)
        .def("__repr__", [](const CheckFinding& c) { return "<hobble.Check " + c.sentence + ">"; });

    py::class_<MotionView>(m, "Motion", "One motion of a plan.")
        .def_property_readonly("id", [](const MotionView& v) { return v.get().id; })
        .def_property_readonly("words", [](const MotionView& v) { return wordsFor(v.get()); })
        .def_property_readonly("on", [](const MotionView& v) { return v.get().on; })
        .def_property_readonly("limit", [](const MotionView& v) { return v.get().limit(); })
        .def_property_readonly("steps", [](const MotionView& v) { return v.get().steps; })
        .def("__repr__", [](const MotionView& v) { return "<hobble.Motion " + v.get().id + ">"; });

    py::class_<Planned, std::shared_ptr<Planned>>(m, "Plan", "Motions to be tested.")
        .def_property_readonly("name", [](const Planned& p) { return p.plan.name; })
        .def_property_readonly("poses", [](const Planned& p) { return p.plan.stepCount(); })
        .def_property_readonly("coverage",
                               [](const Planned& p) {
                                   return coverageOf(*p.subject->character, p.subject->roles, p.plan).share;
                               })
        .def_property_readonly("motions",
                               [](const std::shared_ptr<Planned>& p) {
                                   std::vector<MotionView> out;
                                   for (std::size_t i = 0; i < p->plan.motions.size(); ++i)
                                       out.push_back({p, i});
                                   return out;
                               })
        .def(
            "only", // a plan of these alone
            [](const Planned& p, const std::vector<std::string>& ids) {
                auto out = std::make_shared<Planned>(p);
                for (Motion& motion : out->plan.motions)
                    motion.on = false;
                for (const std::string& id : ids) {
                    const int at = out->plan.find(id);
                    if (at < 0)
                        throw Failure("the plan has no motion " + id);
                    out->plan.motions[static_cast<std::size_t>(at)].on = true;
                }
                return out;
            },
            py::arg("ids"), "The plan with these motions on and all others off.")
        .def(
            "save",
            [](const Planned& p, const std::string& path) {
                orRaise(writeFile(path, planToJson(p.plan, *p.subject->character)));
            },
            py::arg("path"), "Writes it as JSON.")
        .def("__len__", [](const Planned& p) { return p.plan.motions.size(); });

    py::class_<FindingView>(m, "Finding", "A sign of a fault: one measure past its limit at one joint.")
        .def_property_readonly("joint",
                               [](const FindingView& v) { return jointName(*v.of->subject, v.get().joint); })
        .def_property_readonly("kind", [](const FindingView& v) { return factsOf(v.get().kind).word; })
        .def_property_readonly("severity", [](const FindingView& v) { return v.get().severity; })
        .def_property_readonly("motion", [](const FindingView& v) { return v.motion().id; })
        .def_property_readonly("onset", [](const FindingView& v) { return v.get().onset; })
        .def_property_readonly("peak", [](const FindingView& v) { return v.get().peak; })
        .def_property_readonly("value", [](const FindingView& v) { return v.get().peakValue; })
        .def_property_readonly("limit", [](const FindingView& v) { return v.get().limit; })
        .def_property_readonly(
            "vertices", // of the character's own arrays
            [](const FindingView& v) {
                std::vector<std::uint32_t> out;
                for (const PartMarks& marks : v.get().marks) {
                    const Part& part = v.of->subject->character->parts[static_cast<std::size_t>(marks.part)];
                    for (std::uint32_t i : marks.vertices)
                        out.push_back(part.firstVertex + i);
                }
                return py::array_t<std::uint32_t>(py::ssize_t(out.size()), out.data());
            })
        .def_property_readonly(
            "sentence",
            [](const FindingView& v) { return sentence(*v.of->subject, v.of->result->plan, v.get()); })
        .def("__repr__", [](const FindingView& v) {
            return "<hobble.Finding " + sentence(*v.of->subject, v.of->result->plan, v.get()) + ">";
        });

    py::class_<CureView>(m, "Cure", "Steps that were tried, and what they do.")
        .def_property_readonly("name", [](const CureView& c) { return c.cure.name; })
        .def_property_readonly("sentence", [](const CureView& c) { return sentence(c.cure, *c.of->subject); })
        .def_property_readonly("gone", [](const CureView& c) { return c.cure.gone(); })
        .def_property_readonly("harms", [](const CureView& c) { return c.cure.harms(); })
        .def_property_readonly("steps",
                               [](const CureView& c) {
                                   std::vector<std::string> out;
                                   for (const Step& step : c.cure.steps)
                                       out.push_back(sentence(step));
                                   return out;
                               })
        .def("save", &saveCure, py::arg("path"),
             "Writes the build with these steps done, all else as it was. Returns notes.")
        .def("__repr__",
             [](const CureView& c) { return "<hobble.Cure " + sentence(c.cure, *c.of->subject) + ">"; });

    py::class_<FaultView>(m, "Fault", "What is wrong, once: a cause at a place, with its signs.")
        .def_property_readonly("joint",
                               [](const FaultView& v) { return jointName(*v.of->subject, v.get().joint); })
        .def_property_readonly("kind", [](const FaultView& v) { return factsOf(v.sign().kind).word; })
        .def_property_readonly("severity", [](const FaultView& v) { return v.get().severity; })
        .def_property_readonly("cause",
                               [](const FaultView& v) -> std::optional<std::string> {
                                   const Cause* cause = v.get().headline();
                                   return cause ? std::optional<std::string>(factsOf(cause->kind).word)
                                                : std::nullopt;
                               })
        .def_property_readonly("evidence",
                               [](const FaultView& v) -> std::optional<std::string> {
                                   const Cause* cause = v.get().headline();
                                   return cause ? std::optional(sentenceOf(*v.of->subject->character, *cause))
                                                : std::nullopt;
                               })
        .def_property_readonly("signs",
                               [](const FaultView& v) {
                                   std::vector<FindingView> out;
                                   for (int sign : v.get().signs)
                                       out.push_back({v.of, static_cast<std::size_t>(sign)});
                                   return out;
                               })
        .def_property_readonly("sentence",
                               [](const FaultView& v) {
                                   return sentence(*v.of->subject, v.of->result->plan, v.of->result->findings,
                                                   v.get());
                               })
        .def("cure", &self::cure, "Cures that were tried, the one to take first; none where nothing helps.")
        .def("__repr__", [](const FaultView& v) {
            return "<hobble.Fault " +
                   sentence(*v.of->subject, v.of->result->plan, v.of->result->findings, v.get()) + ">";
        });

    py::class_<Ran, std::shared_ptr<Ran>>(m, "Run", "A plan measured on a character, and judged.")
        .def_property_readonly("faults", // most urgent first
                               [](const std::shared_ptr<Ran>& r) {
                                   std::vector<FaultView> out;
                                   for (std::size_t i = 0; i < r->result->faults.size(); ++i)
                                       out.push_back({r, i});
                                   return out;
                               })
        .def_property_readonly("findings",
                               [](const std::shared_ptr<Ran>& r) {
                                   std::vector<FindingView> out;
                                   for (std::size_t i = 0; i < r->result->findings.size(); ++i)
                                       out.push_back({r, i});
                                   return out;
                               })
        .def_property_readonly("worst",
                               [](const Ran& r) {
                                   int worst = 0;
                                   for (const Fault& f : r.result->faults)
                                       worst = std::max(worst, f.severity);
                                   return worst;
                               })
        .def_property_readonly(
            "coverage",
            [](const Ran& r) {
                return coverageOf(*r.subject->character, r.subject->roles, r.result->plan).share;
            })
        .def_property_readonly("seconds", [](const Ran& r) { return r.result->seconds; })
        .def_property_readonly("stopped", [](const Ran& r) { return r.result->cancelled; })
        .def(
            "json",
            [](const Ran& r) {
                std::string text;
                {
                    const py::gil_scoped_release others;
                    text = runToJson(*r.subject, *r.result);
                }
                return fromJson(text);
            },
            "All of it, as docs/schema/run.schema.json says.");

    py::class_<Opened>(m, "Character", "A character made ready to be tested.")
        .def_property_readonly("name", [](const Opened& o) { return o.c().name; })
        .def_property_readonly("file", [](const Opened& o) { return o.c().source; })
        .def_property_readonly("build", [](const Opened& o) { return o.c().hash; })
        .def_property_readonly("height", [](const Opened& o) { return o.subject->body.height; })
        .def_property_readonly("notes", [](const Opened& o) { return o.c().notes; })
        .def_property_readonly("joints",
                               [](const Opened& o) {
                                   std::vector<JointView> out;
                                   for (int j = 0; j < o.c().skeleton.size(); ++j)
                                       out.push_back({o.subject, j});
                                   return out;
                               })
        .def_property_readonly("positions",
                               [](const py::object& me) {
                                   const Character& c = me.cast<const Opened&>().c();
                                   return view(me, c.neutral.empty() ? nullptr : c.neutral[0].data(),
                                               {py::ssize_t(c.neutral.size()), 3});
                               })
        .def_property_readonly("triangles",
                               [](const py::object& me) {
                                   const Character& c = me.cast<const Opened&>().c();
                                   return view(me, c.triangles.empty() ? nullptr : c.triangles[0].data(),
                                               {py::ssize_t(c.triangles.size()), 3});
                               })
        .def_property_readonly("weight_first",
                               [](const py::object& me) {
                                   const SkinWeights& w = me.cast<const Opened&>().c().weights;
                                   return view(me, w.first.data(), {py::ssize_t(w.first.size())});
                               })
        .def_property_readonly("weight_joint",
                               [](const py::object& me) {
                                   const SkinWeights& w = me.cast<const Opened&>().c().weights;
                                   return view(me, w.joint.data(), {py::ssize_t(w.joint.size())});
                               })
        .def_property_readonly("weight",
                               [](const py::object& me) {
                                   const SkinWeights& w = me.cast<const Opened&>().c().weights;
                                   return view(me, w.weight.data(), {py::ssize_t(w.weight.size())});
                               })
        .def(
            "inspect",
            [](const Opened& o) {
                const py::gil_scoped_release others;
                return inspect(*o.subject);
            },
            "What Intake finds, worst first.")
        .def("plan", &self::plan, py::arg("singles") = false,
             "The range of motion test of this character; `singles`: without poses and shapes.")
        .def(
            "read_plan",
            [](const Opened& o, const std::string& path) {
                const py::gil_scoped_release others;
                return std::make_shared<const Planned>(Planned{o.subject, orRaise(readPlan(path, o.c()))});
            },
            py::arg("path"), "A plan of a file, as `Plan.save` writes it.")
        .def("run", &self::run, py::arg("plan") = nullptr, py::kw_only(), py::arg("method") = "linear",
             py::arg("threads") = 0, py::arg("limits") = std::nullopt, py::arg("progress") = nullptr,
             "Measures every step of the plan, judges, and finds.")
        .def("pose", &self::pose, py::arg("turns"), py::kw_only(), py::arg("method") = "linear",
             "Vertices with joints turned, name to degrees about x, y and z of the joint's own frame.")
        .def("__repr__", [](const Opened& o) {
            return "<hobble.Character " + o.c().name + ": " + std::to_string(o.c().skeleton.size()) +
                   " joints, " + std::to_string(o.c().vertexCount()) + " vertices>";
        });

    py::class_<Log>(m, "Log", "A team's production log: a file, or postgresql://person@server/database.")
        .def(py::init([](const std::string& place) {
                 Log log{QString::fromStdString(place)};
                 log.open(); // whether it can be
                 return log;
             }),
             py::arg("place"))
        .def_property_readonly("place", [](const Log& log) { return log.place.toStdString(); })
        .def(
            "defects",
            [](const Log& log, const std::optional<std::string>& character) {
                std::string text;
                {
                    const py::gil_scoped_release others;
                    const auto opened = log.open();
                    DefectQuery query;
                    query.character = QString::fromStdString(character.value_or(""));
                    QJsonArray list;
                    for (const Defect& d : orRaise(opened->defects(query)))
                        list.append(defectToJson(d));
                    text = QJsonDocument(list).toJson(QJsonDocument::Compact).toStdString();
                }
                return fromJson(text);
            },
            py::arg("character") = std::nullopt,
            "Of all characters or one, as `hobble-cli log list --json` has them.")
        .def(
            "enter",
            [](const Log& log, const Ran& r, const std::string& key) {
                const py::gil_scoped_release others;
                if (r.result->cancelled)
                    throw Failure("the run was stopped; a log keeps whole ones");
                const auto opened = log.open();
                orRaise(enterRun(*opened, entryOf(*r.subject, *r.result, QString::fromStdString(key))));
            },
            py::arg("run"), py::arg("key") = "", "Enters a run; under a key, only once.")
        .def(
            "check",
            [](const Log& log, const Ran& r, const std::string& author) {
                std::string text;
                {
                    const py::gil_scoped_release others;
                    const auto opened = log.open();
                    const Build build = log.build(*opened, *r.subject->character);
                    CheckInput in;
                    in.subject = r.subject;
                    in.run = r.result;
                    in.checks = inspect(*r.subject);
                    const auto checks =
                        orRaise(checkLogged(*opened, build, std::move(in), QString::fromStdString(author)));
                    text = QJsonDocument(checksToJson(checks, *r.subject, build.number))
                               .toJson(QJsonDocument::Compact)
                               .toStdString();
                }
                return fromJson(text);
            },
            py::arg("run"), py::arg("author") = "script",
            "Asks for every open defect on the run's build and keeps the verdicts; as "
            "docs/schema/check.schema.json.");

    m.def(
        "open", &self::open, py::arg("path"), py::arg("naming") = std::nullopt,
        "Reads a character (glTF, FBX, COLLADA and others) and makes it ready; `naming`: a naming profile.");
}
