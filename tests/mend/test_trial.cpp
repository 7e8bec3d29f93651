// The list of steps: worked out again from the first that is another one, on and off, back and forth, on the
// other side, and on the same build with another mesh.
#include "builds.h"
#include "io/trial_json.h"
#include "io/weights_json.h"
#include "plant/plant.h"
#include "remesh.h"
#include "support/suite.h"
#include "zoo/flesh.h"

#include <QTest>

#include <algorithm>
#include <cmath>

using namespace hobble;
using namespace hobble::demo;

class TestTrial : public QObject {
    Q_OBJECT

    std::shared_ptr<const Subject> dog_;

    static std::shared_ptr<const Subject> subjectOf(Character c) {
        return std::make_shared<const Subject>(
            prepareSubject(std::make_shared<const Character>(std::move(c))));
    }
    // A few that build on each other around a joint.
    Trial around(const std::string& joint) const {
        const Skeleton& sk = dog_->character->skeleton;
        const int at = sk.find(joint);
        const std::string parent = sk.name[static_cast<std::size_t>(sk.parent[static_cast<std::size_t>(at)])];
        Trial out;
        Step soften;
        soften.place.what = MendPlace::What::Reach;
        soften.place.joint = joint;
        soften.count = 3;
        Step over;
        over.kind = StepKind::HandOver;
        over.joint = parent;
        over.to = joint;
        over.amount = 0.2;
        over.place = soften.place;
        Step stroke;
        stroke.kind = StepKind::Fill;
        stroke.joint = joint;
        stroke.amount = 0.3;
        stroke.fillBy = FillBy::Add;
        stroke.place.what = MendPlace::What::Stroke;
        stroke.place.path = {sk.place(at).cast<float>()};
        stroke.place.radius = 0.3;
        stroke.place.along = false;
        out.steps = {soften, over, stroke};
        return out;
    }

private slots:
    void initTestCase() {
        auto c = zoo::strangerCalled("zoo low dog");
        QVERIFY(c);
        dog_ = subjectOf(std::move(*c));
    }

    void eachStepIsSentenceAndEffect() {
        TriedSteps tried(dog_);
        const Trial trial = around("front_lower_leg_l");
        tried.take(trial);
        QCOMPARE(tried.effects().size(), trial.steps.size());
        for (std::size_t i = 0; i < trial.steps.size(); ++i) {
            QVERIFY2(tried.effects()[i].applies, tried.effects()[i].why.c_str());
            QVERIFY(!tried.effects()[i].changed.empty());
            QVERIFY(tried.effects()[i].most > 0 && tried.effects()[i].most <= 1);
            QVERIFY(!sentence(trial.steps[i]).empty());
        }
        QCOMPARE(sentence(trial.steps[0]),
                 std::string("Soften three times, where front_lower_leg_l reaches"));
        // ready to be measured: all but the weights is shared with the build
        const auto made = tried.character();
        QVERIFY(made->neutral.sharesWith(dog_->character->neutral));
        QVERIFY(made->triangles.sharesWith(dog_->character->triangles));
        QVERIFY(!(made->weights == dog_->character->weights));
        QVERIFY(made->hash != dog_->character->hash); // and told apart from it
    }

    // Off is as if it were not there; changed, moved and taken out, it is what a fresh start gives; and only
    // what follows is worked out.
    void aChangeCostsWhatFollows() {
        TriedSteps tried(dog_);
        Trial trial = around("front_lower_leg_l");
        for (const Step& s : around("front_lower_leg_r").steps)
            trial.steps.push_back(s);
        tried.take(trial);
        QCOMPARE(tried.worked(), 6);
        const auto fresh = [&](const Trial& t) {
            TriedSteps other(dog_);
            other.take(t);
            return other.character()->weights;
        };
        trial.steps[4].on = false;
        tried.take(trial);
        QCOMPARE(tried.worked(), 1); // the one after it
        Trial without = trial;
        without.steps.erase(without.steps.begin() + 4);
        QCOMPARE(tried.character()->weights, fresh(without));
        std::swap(trial.steps[1], trial.steps[2]);
        tried.take(trial);
        QCOMPARE(tried.worked(), 4);
        QCOMPARE(tried.character()->weights, fresh(trial));
        trial.locked = {"front_lower_leg_l"};
        tried.take(trial);
        QCOMPARE(tried.worked(), 5);
        QCOMPARE(tried.character()->weights, fresh(trial));
        tried.take({});
        QCOMPARE(tried.character()->weights, dog_->character->weights); // to the bit
    }

    void whatNoLongerAppliesSaysWhy() {
        Trial trial = around("front_lower_leg_l");
        trial.steps[1].to = "no_such_joint";
        TriedSteps tried(dog_);
        tried.take(trial);
        QVERIFY(tried.effects()[0].applies && !tried.effects()[1].applies && tried.effects()[2].applies);
        QVERIFY(tried.effects()[1].why.find("no_such_joint") != std::string::npos);
        trial.steps.erase(trial.steps.begin() + 1);
        TriedSteps other(dog_);
        other.take(trial);
        QCOMPARE(tried.character()->weights, other.character()->weights);
    }

    // Out and in again it is the same, vertices in the file's own numbers; what is no trial is told.
    void asJson() {
        Trial trial = around("front_lower_leg_l");
        trial.name = "elbow, \"softer\" 袖";
        trial.build = dog_->character->hash;
        trial.locked = {"tail_1"};
        Step marked;
        marked.kind = StepKind::FromNeighbours;
        marked.on = false;
        marked.strength = 0.25;
        marked.place.what = MendPlace::What::Marked;
        marked.place.vertices = {3, 5, 8};
        Step all;
        all.kind = StepKind::Cap;
        all.count = 4;
        trial.steps.push_back(marked);
        trial.steps.push_back(all);
        const std::string text = trialToJson(trial, dog_->surface);
        const auto back = trialFromJson(text, dog_->surface);
        QVERIFY2(back, back.error().c_str());
        QCOMPARE(*back, trial);
        for (std::size_t at = 0; at < text.size(); at += 37)
            QVERIFY(!trialFromJson(text.substr(0, at), dog_->surface));
        const auto with = [&](const std::string& was, const std::string& is) {
            std::string wrong = text;
            const auto at = wrong.find(was);
            if (at == std::string::npos)
                qFatal("there is no %s", was.c_str());
            return trialFromJson(wrong.replace(at, was.size(), is), dog_->surface);
        };
        for (const auto& [was, is, says] :
             {std::tuple("hobble-trial", "hobble-plan", "not a Hobble trial"),
              std::tuple("\"soften\"", "\"polish\"", "no step called polish"),
              std::tuple("\"version\": 1", "\"version\": 9", "another version"),
              std::tuple("\"strength\": 0.25", "\"strength\": 7", "out of range"),
              std::tuple("\"radius\": 0.3", "\"radius\": -1", "radius above 0"),
              std::tuple("\"by\": \"add\"", "\"by\": \"nod\"", "not nod"),
              std::tuple("\"count\": 4", "\"count\": \"four\"", "wrong type")}) {
            const auto wrong = with(was, is);
            QVERIFY2(!wrong && wrong.error().find(says) != std::string::npos, wrong.error().c_str());
        }
        const Surface none;
        QVERIFY(!trialFromJson(text, none)); // a mesh that has not these vertices
    }

    // The weights alone come back to the bit; a table names every influence; what is no weight is told.
    void weightsAlone() {
        const Character& c = *dog_->character;
        const std::string text = weightsToJson(c);
        const auto back = weightsFromJson(text, c);
        QVERIFY2(back, back.error().c_str());
        QCOMPARE(back->joint, c.weights.joint);
        for (std::size_t i = 0; i < back->weight.size(); ++i)
            QVERIFY(std::abs(back->weight[i] - c.weights.weight[i]) < 1e-6f);
        const std::string csv = weightsToCsv(c);
        QCOMPARE(static_cast<std::size_t>(std::count(csv.begin(), csv.end(), '\n')),
                 1 + c.weights.joint.size());
        for (std::size_t at = 0; at < text.size() - 2; at += text.size() / 40)
            QVERIFY(!weightsFromJson(text.substr(0, at), c));
        const auto wrong = [&](const char* parts, const char* joints = "[\"x\", \"front_lower_leg_l\"]") {
            return weightsFromJson(
                std::string("{\"format\": \"hobble-weights\", \"version\": 1, \"joints\": ") + joints +
                    ", \"parts\": [" + parts + "]}",
                c);
        };
        std::string rows;
        for (std::size_t v = 0; v < c.parts[0].vertexCount; ++v)
            rows += std::string(v ? "," : "") + "[[1, 2.0]]";
        const std::string part = "{\"name\": \"" + c.parts[0].name + "\", \"vertices\": [";
        const auto settled = wrong((part + rows + "]}").c_str()); // sums are settled
        QVERIFY2(settled, settled.error().c_str());
        QCOMPARE(settled->weight[0], 1.0f);
        for (const auto& [first, says] :
             {std::pair("[[0, 1.0]]", "no joint called x"), std::pair("[[7, 1.0]]", "not in the list"),
              std::pair("[[1, -1.0]]", "is -1"), std::pair("[[1, 0.0]]", "moved by nothing"),
              std::pair("[]", "moved by nothing"), std::pair("[[1, null]]", "no number"),
              std::pair("[[1, 1e300]]", "is 1e+300")}) {
            const auto told =
                wrong((part + first + rows.substr(rows.find(',', rows.find(']'))) + "]}").c_str());
            QVERIFY2(!told && told.error().find(says) != std::string::npos, told.error().c_str());
        }
        QVERIFY(wrong((part + "[[1, 1.0]]]}").c_str()).error().find("are told") != std::string::npos);
        QVERIFY(wrong("{\"name\": \"no such part\", \"vertices\": []}").error().find("no skinned part") !=
                std::string::npos);
    }

    void backAndForth() {
        TrialHistory history;
        Trial one = around("front_lower_leg_l"), two = one;
        two.steps.pop_back();
        history.change(one);
        history.change(one); // nothing
        history.change(two);
        history.undo();
        QCOMPARE(history.now(), one);
        history.redo();
        QCOMPARE(history.now(), two);
        QVERIFY(!history.canRedo());
        history.undo();
        history.undo();
        QVERIFY(!history.canUndo());
        QCOMPARE(history.now(), Trial{});
        history.change(two);
        QVERIFY(!history.canRedo());
    }

    // The same on the right of a body that is alike on both sides gives the mirror of what the left gave.
    void onTheOtherSide() {
        const Pairing across = pairMirrored(*dog_);
        const Trial left = around("front_lower_leg_l");
        Trial right;
        for (const Step& s : left.steps) {
            const auto other = onOtherSide(s, *dog_, across);
            QVERIFY2(other, other.error().c_str());
            QVERIFY(other->place.joint.empty() || other->place.joint == "front_lower_leg_r");
            right.steps.push_back(*other);
        }
        TriedSteps l(dog_), r(dog_);
        l.take(left);
        r.take(right);
        // its skin is no exact mirror: at the mirrored place, between the corners there
        double apart = 0, changed = 0;
        const Shares asBuilt(*dog_);
        for (std::uint32_t v : l.shares().changed()) {
            const SkinPlace& place = across.place[v];
            if (!place.there())
                continue;
            for (const Share& s : l.shares().at(v)) {
                double there = 0;
                for (std::size_t k = 0; k < 3; ++k)
                    there +=
                        place.share[k] * shareOf(r.shares().at(dog_->surface.triangles[place.triangle][k]),
                                                 across.joints.other[s.joint]);
                apart += std::abs(s.by - there);
                changed += std::abs(s.by - shareOf(asBuilt.at(v), s.joint));
            }
        }
        QVERIFY2(changed > 10 && apart < 0.1 * changed,
                 qPrintable(QStringLiteral("%1 of %2").arg(apart).arg(changed)));
        // and as the other side: a spoilt left leg, mended by the right
        auto spoilt = *dog_->character;
        Recipe recipe;
        recipe.seed = 5;
        recipe.faults.push_back({"blend too hard", "front_lower_leg_l", "", "", 0.8, false});
        QVERIFY(plant(spoilt, recipe));
        const auto faulty = subjectOf(std::move(spoilt));
        Step mirror;
        mirror.kind = StepKind::Mirror;
        mirror.place.what = MendPlace::What::Reach;
        mirror.place.joint = "front_lower_leg_l";
        TriedSteps mended(faulty);
        Trial trial;
        trial.steps = {mirror};
        mended.take(trial);
        QVERIFY(mended.effects()[0].applies);
        const auto off = [&](const Shares& shares) {
            const Shares good(*dog_);
            double sum = 0;
            for (std::uint32_t v = 0; v < good.size(); ++v)
                for (int j = 0; j < dog_->character->skeleton.size(); ++j)
                    sum += std::abs(shareOf(shares.at(v), j) - shareOf(good.at(v), j));
            return sum;
        };
        const double before = off(Shares(*faulty)), after = off(mended.shares());
        QVERIFY2(after < 0.35 * before, qPrintable(QStringLiteral("%1 of %2").arg(after).arg(before)));
    }

    // In another order and subdivided: places are found again, and the weights come out alike.
    void onAnotherMesh() {
        Trial trial = around("front_lower_leg_l");
        Step marked;
        marked.kind = StepKind::Rigid;
        marked.joint = "front_lower_leg_l";
        marked.strength = 0.5;
        marked.place.what = MendPlace::What::Marked;
        for (std::uint32_t v = 0; v < dog_->neutral.size(); ++v)
            if ((dog_->neutral[v] -
                 dog_->character->skeleton.place(dog_->character->skeleton.find(marked.joint)).cast<float>())
                    .norm() < 0.15f)
                marked.place.vertices.push_back(v);
        QVERIFY(!marked.place.vertices.empty());
        trial.steps.push_back(marked);
        TriedSteps here(dog_);
        here.take(trial);
        for (const auto& [other, near] : {std::pair(subjectOf(shuffled(*dog_->character, 3)), 1e-4),
                                          std::pair(subjectOf(subdivided(*dog_->character)), 0.2)}) {
            const Pairing back = pairSkin(*other, *dog_);
            Trial there;
            for (const Step& s : trial.steps)
                there.steps.push_back(carriedOver(s, *dog_, *other, back));
            TriedSteps tried(other);
            tried.take(there);
            double most = 0;
            for (std::uint32_t v = 0; v < other->neutral.size(); ++v) {
                const std::uint32_t twin = twinOf(back, *dog_, v);
                if (twin == SkinPlace::kNone || (dog_->neutral[twin] - other->neutral[v]).norm() > 1e-5f)
                    continue;
                for (const Share& s : here.shares().at(twin))
                    most = std::max(most, std::abs(s.by - shareOf(tried.shares().at(v), s.joint)));
            }
            QVERIFY2(most < near, qPrintable(QString::number(most)));
        }
    }
};

HOBBLE_TEST(TestTrial)
#include "test_trial.moc"
