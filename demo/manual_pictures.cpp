// hobble-manual-pictures OUT: a picture for each kind of fault, each cause and each check of Intake, for the
// manual's "Why does it say this?" (docs/manual/why.md): faults planted on the demo cast and on bodies that
// nobody drew, found by a run, and seen where they show best. scripts/manual-pictures runs it where the cast
// is.
#include "core/intake/check.h"
#include "core/pose/motion.h"
#include "core/run/run.h"
#include "io/character_read.h"
#include "log/finding_defect.h"
#include "odd_builds.h"
#include "picture/picture.h"
#include "plant/plant.h"
#include "story/defect_pictures.h"
#include "zoo/flesh.h"

#include <QBuffer>
#include <QDir>
#include <QGuiApplication>
#include <QPainter>

#include <cstdio>
#include <map>

using namespace hobble;

namespace {

constexpr int kWidth = 300, kHeight = 225, kGap = 8;

// As its anchor in the manual is called.
QString fileName(const QString& of, const char* word) {
    QString name = QString::fromLatin1(word);
    name.replace(QLatin1Char(' '), QLatin1Char('-'));
    return of + name + QStringLiteral(".jpg");
}

QImage beside(const std::vector<QImage>& images) {
    const int n = static_cast<int>(images.size());
    QImage out(n * kWidth + (n - 1) * kGap, kHeight, QImage::Format_RGB32);
    out.fill(0xf6f1e6);
    QPainter p(&out);
    for (int i = 0; i < n; ++i)
        p.drawImage(i * (kWidth + kGap), 0, images[static_cast<std::size_t>(i)]);
    return out;
}

// Whether a measure colours enough of a picture to be seen: what is measured of a joint as a whole colours
// nothing.
bool saysSomething(const QImage& image) {
    int coloured = 0;
    for (int y = 0; y < image.height(); y += 2)
        for (int x = 0; x < image.width(); x += 2)
            coloured += image.pixelColor(x, y).hsvSaturation() > 60;
    return coloured > image.width() * image.height() / 4 / 300;
}

class Pictures {
public:
    explicit Pictures(const QString& folder) : folder_(folder) {}

    bool wants(const QString& name, int severity) const {
        const auto had = had_.find(name);
        return had == had_.end() || had->second < std::min(severity, 3);
    }
    void put(const QString& name, int severity, const QImage& image) {
        if (image.isNull() || !image.save(folder_.filePath(name), "JPG", 84))
            return;
        had_[name] = severity;
        std::printf("%s\n", qPrintable(name));
    }

private:
    QDir folder_;
    std::map<QString, int> had_;
};

// A fault as it is seen, and in the colours of its measure.
QImage pictureOf(const std::shared_ptr<const Subject>& s, const RunResult& run, const Fault& fault) {
    Defect d;
    d.facts = factsOf(*s, run.plan, run.findings, fault);
    d.build = Build{0, QString::fromStdString(s->character->name), QStringLiteral("here"), {}, 0};
    BuildShelf shelf;
    shelf.put(d.build.hash, s);
    PictureWish wish;
    wish.width = kWidth;
    wish.height = kHeight;
    wish.limits = run.limits;
    const DefectPictures made = picturesOf(d, {d.build}, shelf, wish);
    std::vector<QImage> chosen; // from where it shows best, then in colours; or from its two sides
    for (bool measured : {false, true})
        for (const DefectPicture& p : made.pictures)
            if (p.measured == measured && (!measured || saysSomething(p.image))) {
                chosen.push_back(p.image);
                break;
            }
    if (chosen.size() == 1 && made.pictures.size() > 1)
        chosen.push_back(made.pictures[1].image);
    return chosen.empty() ? QImage() : beside(chosen);
}

// What a check marks, on the whole character and from near.
QImage pictureOf(const Subject& s, const CheckFinding& f) {
    Character c = *s.character;
    std::vector<char> marked(c.vertexCount(), 0);
    for (const auto& [part, vertices] : f.vertices)
        for (std::uint32_t v : vertices)
            marked[c.parts[static_cast<std::size_t>(part)].firstVertex + v] = 1;
    const bool any = std::any_of(marked.begin(), marked.end(), [](char m) { return m != 0; });
    if (!any && f.joint < 0)
        return {};
    if (!any) // a joint has no skin of its own: what goes with it most
        for (std::size_t v = 0; v < marked.size(); ++v)
            for (std::uint32_t i = c.weights.first[v]; i < c.weights.first[v + 1]; ++i)
                marked[v] |= c.weights.joint[i] == f.joint && c.weights.weight[i] > 0.5f;
    if (f.joint >= 0 && std::none_of(marked.begin(), marked.end(), [](char m) { return m != 0; }))
        for (std::size_t v = 0; v < marked.size(); ++v) // it holds none: what is about it
            marked[v] =
                (c.neutral[v].cast<double>() - c.skeleton.place(f.joint)).norm() < 0.05 * s.body.height;
    Eigen::AlignedBox3d box;
    std::vector<Vec3> colours;
    Vec3d normal = Vec3d::Zero();
    std::vector<char> tinted = marked; // a single vertex has no area: its triangles are tinted
    for (const Triangle& t : c.triangles)
        if (marked[t[0]] || marked[t[1]] || marked[t[2]])
            for (std::uint32_t v : t) {
                tinted[v] = 1;
                normal += (c.neutral[t[1]] - c.neutral[t[0]])
                              .cross(c.neutral[t[2]] - c.neutral[t[0]])
                              .cast<double>();
            }
    for (std::size_t v = 0; v < marked.size(); ++v) {
        colours.push_back(tinted[v] ? Vec3(0.55f, 0.07f, 0.04f) : Vec3(0.52f, 0.5f, 0.46f));
        if (marked[v])
            box.extend(c.neutral[v].cast<double>());
    }
    if (box.isEmpty())
        return {};
    // What it wears would hide it; what is marked as a whole is seen on the whole.
    std::vector<Triangle> seen;
    bool whole = true;
    for (const Part& part : c.parts) {
        const auto first = marked.begin() + part.firstVertex, last = first + part.vertexCount;
        if (std::none_of(first, last, [](char m) { return m != 0; }))
            continue;
        whole &= std::all_of(first, last, [](char m) { return m != 0; });
        for (const Triangle& t : c.triangles)
            if (t[0] >= part.firstVertex && t[0] < part.firstVertex + part.vertexCount)
                seen.push_back(t);
    }
    if (!whole)
        c.triangles = std::move(seen);
    PictureView all = viewOf(c, c.neutral), near = all;
    near.centre = box.center();
    near.height = std::clamp(2.5 * box.sizes().maxCoeff(), 0.2 * s.body.height, 1.1 * s.body.height);
    if (near.height > 0.6 * s.body.height) { // here and there: from near one of them, that nearest to the eye
        near.height = 0.3 * s.body.height;
        double nearest = -INFINITY;
        for (std::size_t v = 0; v < marked.size(); ++v)
            if (const double ahead = c.neutral[v].cast<double>().dot(s.body.forward + 0.3 * s.body.left);
                marked[v] && ahead > nearest) {
                nearest = ahead;
                near.centre = c.neutral[v].cast<double>();
            }
    } else if (Vec3d flat(normal.x(), 0, normal.z()); flat.norm() > 0.2 * normal.norm()) {
        near.yaw = all.yaw = std::atan2(flat.x(), flat.z()) * 180 / M_PI;
    }
    return beside({picture(c, c.neutral, all, kWidth, kHeight, false, colours),
                   picture(c, c.neutral, near, kWidth, kHeight, true, colours)});
}

} // namespace

int main(int argc, char** argv) {
    qputenv("QT_QPA_PLATFORM", "offscreen");
    QGuiApplication app(argc, argv);
    if (argc != 4) {
        std::fprintf(stderr, "hobble-manual-pictures CAST RECIPES OUT: folders\n");
        return 2;
    }
    const std::string cast = argv[1], recipes = argv[2];
    QDir().mkpath(QString::fromLocal8Bit(argv[3]));
    Pictures pictures(QString::fromLocal8Bit(argv[3]));
    const auto putChecks = [&](const Subject& s, const std::string& only) {
        for (const CheckFinding& f : inspect(s)) {
            const QString name = fileName(QStringLiteral("check-"), f.check.c_str());
            if (only.empty() ? pictures.wants(name, f.severity)
                             : name == QString::fromStdString(only + ".jpg"))
                pictures.put(name, f.severity, pictureOf(s, f));
        }
    };
    // What leads a fault shows it best; what never leads is shown where it is a sign, or one of the causes.
    const auto putSigns = [&](const std::shared_ptr<const Subject>& s, const RunResult& run) {
        for (const Fault& fault : run.faults) {
            for (int sign : fault.signs) {
                Fault alone = fault;
                alone.signs = {sign};
                const Finding& f = run.findings[static_cast<std::size_t>(sign)];
                const QString name = fileName({}, factsOf(f.kind).word);
                if (pictures.wants(name, 0))
                    pictures.put(name, 0, pictureOf(s, run, alone));
            }
            for (const Cause& cause : fault.causes) {
                const QString name = fileName(QStringLiteral("cause-"), factsOf(cause.kind).word);
                if (cause.weight > 0.1 && pictures.wants(name, 0))
                    pictures.put(name, 0, pictureOf(s, run, fault));
            }
        }
    };
    for (const char* set : {"story", "faces-tuned", "tuned", "strangers-tuned", "intake-tuned"}) {
        const auto list = demo::readRecipes(recipes + "/" + set + ".json");
        if (!list) {
            std::fprintf(stderr, "hobble-manual-pictures: %s\n", list.error().c_str());
            return 1;
        }
        for (const demo::Recipe& recipe : *list) {
            auto stranger = zoo::strangerCalled(recipe.character);
            auto read = stranger ? Result<Character>(std::move(*stranger))
                                 : readCharacter(cast + "/" + recipe.character + ".glb");
            if (!read) {
                std::fprintf(stderr, "hobble-manual-pictures: %s\n", read.error().c_str());
                return 1;
            }
            Character c = std::move(*read);
            const auto truth = demo::plant(c, recipe);
            if (!truth)
                continue;
            const auto s = std::make_shared<const Subject>(
                prepareSubject(std::make_shared<const Character>(std::move(c))));
            putChecks(*s, {});
            // Only a run that can bring something new is made.
            const bool news = std::any_of(truth->begin(), truth->end(), [&](const demo::Truth& t) {
                return t.detector == "run" &&
                       (pictures.wants(fileName(QStringLiteral("cause-"), t.cause.c_str()), 3) ||
                        (!t.kinds.empty() && pictures.wants(fileName({}, t.kinds.front().c_str()), 3)));
            });
            if (!news)
                continue;
            const RunResult run = runPlan(*s, fullPlan(*s->character, s->roles));
            for (const Fault& fault : run.faults) {
                const Finding& lead = run.findings[static_cast<std::size_t>(fault.signs.front())];
                const QString kind = fileName({}, factsOf(lead.kind).word);
                if (pictures.wants(kind, fault.severity))
                    pictures.put(kind, fault.severity, pictureOf(s, run, fault));
                if (const Cause* cause = fault.headline()) {
                    const char* word = factsOf(cause->kind).word;
                    const QString name = fileName(QStringLiteral("cause-"), word);
                    const bool planted = std::any_of(truth->begin(), truth->end(),
                                                     [&](const demo::Truth& t) { return t.cause == word; });
                    const int worth = planted ? fault.severity : 1; // what was planted shows it best
                    if (pictures.wants(name, worth))
                        pictures.put(name, worth, pictureOf(s, run, fault));
                }
            }
            putSigns(s, run);
        }
    }
    const auto badger = readCharacter(cast + "/badger-postmaster.glb"),
               goat = readCharacter(cast + "/pack-goat.glb");
    if (!badger || !goat) {
        std::fprintf(stderr, "hobble-manual-pictures: %s\n", (badger ? goat : badger).error().c_str());
        return 1;
    }
    for (demo::OddBuild& odd : demo::oddBuilds(*badger, *goat)) {
        const auto s = std::make_shared<const Subject>(
            prepareSubject(std::make_shared<const Character>(std::move(odd.character))));
        if (odd.shows.starts_with("check-")) {
            putChecks(*s, odd.shows);
            continue;
        }
        const RunResult run = runPlan(*s, fullPlan(*s->character, s->roles));
        // of those that have it for their cause, the one with the most skin
        const Fault* most = nullptr;
        for (const Fault& fault : run.faults)
            if (const Cause* cause = fault.headline();
                cause && (!most || fault.area > most->area) &&
                fileName(QStringLiteral("cause-"), factsOf(cause->kind).word) ==
                    QString::fromStdString(odd.shows + ".jpg"))
                most = &fault;
        if (most)
            pictures.put(QString::fromStdString(odd.shows + ".jpg"), most->severity,
                         pictureOf(s, run, *most));
        putSigns(s, run);
    }
    // A clip's frame that bends a knee farther than is planned.
    Plan past = fullPlan(*badger, guessRoles(*badger));
    const int knee = past.find("left-knee-flex");
    if (knee >= 0) {
        Motion m = past.motions[static_cast<std::size_t>(knee)];
        for (double& step : m.steps)
            step *= 1.25;
        m.beyond = "the knee by 34 degrees";
        past.motions = {m};
        const auto s =
            std::make_shared<const Subject>(prepareSubject(std::make_shared<const Character>(*badger)));
        const RunResult run = runPlan(*s, past);
        putSigns(s, run);
    }
    return 0;
}
