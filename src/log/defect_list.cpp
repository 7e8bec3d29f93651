#include "log/defect_list.h"
#include "log/log_words.h"

#include <QCoreApplication>
#include <QJsonArray>
#include <QMap>

#include <algorithm>

namespace hobble {

namespace {

QString saidOf(const Defect& d) {
    return QStringList{whatWords(d.facts),
                       d.facts.motionName,
                       d.facts.joint,
                       d.facts.limb,
                       d.facts.kind,
                       d.facts.cause,
                       whenWords(d.facts),
                       d.build.character,
                       tr("build %1").arg(d.build.number),
                       d.assignee,
                       d.due,
                       nameOf(d.state),
                       !d.use              ? QString()
                       : d.use->frames > 0 ? tr("reached by the show")
                                           : tr("never reached by the show")}
        .join(QLatin1Char('\n'))
        .toLower();
}

} // namespace

QVector<DefectState> openStates() {
    QVector<DefectState> out;
    std::copy_if(kDefectStates.begin(), kDefectStates.end(), std::back_inserter(out), isOpen);
    return out;
}

QString whenWords(const DefectFacts& f) {
    if (f.motionName.isEmpty()) // found by Intake, before any pose
        return tr("neutral");
    return tr("%1, %2").arg(f.motionName,
                            f.at.isEmpty() ? QStringLiteral("%1°").arg(f.degrees, 0, 'f', 0) : f.at);
}

QString whatWords(const DefectFacts& f) {
    const auto cut = f.what.lastIndexOf(QStringLiteral(" in "));
    return cut > 0 && !f.motionName.isEmpty() ? f.what.left(cut) : f.what;
}

QJsonObject DefectFilter::toJson() const {
    QJsonArray names;
    for (DefectState s : states)
        names.append(nameOf(s));
    QJsonObject o{{QStringLiteral("words"), words},         {QStringLiteral("states"), names},
                  {QStringLiteral("character"), character}, {QStringLiteral("limb"), limb},
                  {QStringLiteral("kind"), kind},           {QStringLiteral("leastSeverity"), leastSeverity}};
    if (who)
        o.insert(QStringLiteral("who"), *who);
    if (among) {
        QList<qint64> numbers(among->begin(), among->end());
        std::sort(numbers.begin(), numbers.end());
        QJsonArray picked;
        for (qint64 id : numbers)
            picked.append(id);
        o.insert(QStringLiteral("among"), picked);
    }
    return o;
}

DefectFilter DefectFilter::fromJson(const QJsonObject& o) {
    DefectFilter f;
    f.words = o.value(QStringLiteral("words")).toString();
    for (const QJsonValue& v : o.value(QStringLiteral("states")).toArray())
        if (const auto s = stateCalled(v.toString()))
            f.states << *s;
    f.character = o.value(QStringLiteral("character")).toString();
    f.limb = o.value(QStringLiteral("limb")).toString();
    f.kind = o.value(QStringLiteral("kind")).toString();
    f.leastSeverity = o.value(QStringLiteral("leastSeverity")).toInt();
    if (const QJsonValue who = o.value(QStringLiteral("who")); who.isString())
        f.who = who.toString();
    if (const QJsonValue picked = o.value(QStringLiteral("among")); picked.isArray()) {
        f.among.emplace();
        for (const QJsonValue& id : picked.toArray())
            f.among->insert(id.toInteger());
    }
    return f;
}

void DefectList::setDefects(QVector<Defect> defects) {
    defects_ = std::move(defects);
    said_.clear();
    comments_.clear();
    said_.reserve(defects_.size());
    for (const Defect& d : std::as_const(defects_))
        said_ << saidOf(d);
}

void DefectList::addComments(const QVector<std::pair<qint64, QString>>& comments) {
    for (const auto& [id, words] : comments) {
        QString& all = comments_[id];
        all += words.toLower() + QLatin1Char('\n');
    }
}

void DefectList::update(const QVector<Defect>& changed) {
    for (const Defect& d : changed) {
        const auto at = std::lower_bound(defects_.begin(), defects_.end(), d.id,
                                         [](const Defect& x, qint64 id) { return x.id < id; });
        const auto place = at - defects_.begin();
        if (at != defects_.end() && at->id == d.id) {
            *at = d;
            said_[place] = saidOf(d);
        } else {
            defects_.insert(place, d);
            said_.insert(place, saidOf(d));
        }
    }
}

int DefectList::placeOf(qint64 id) const {
    const auto at = std::lower_bound(defects_.begin(), defects_.end(), id,
                                     [](const Defect& x, qint64 wanted) { return x.id < wanted; });
    return at != defects_.end() && at->id == id ? static_cast<int>(at - defects_.begin()) : -1;
}

const Defect* DefectList::find(qint64 id) const {
    const int at = placeOf(id);
    return at < 0 ? nullptr : &defects_[at];
}

QVector<DefectGroup> DefectList::arranged(const DefectFilter& f, DefectGrouping grouping, DefectOrder order,
                                          bool descending) const {
    const QStringList words = f.words.toLower().simplified().split(QLatin1Char(' '), Qt::SkipEmptyParts);
    std::array<bool, kDefectStates.size()> wanted{};
    for (DefectState s :
         f.states.isEmpty() ? QVector<DefectState>(kDefectStates.begin(), kDefectStates.end()) : f.states)
        wanted[static_cast<std::size_t>(s)] = s != DefectState::Withdrawn;
    QVector<int> rows;
    rows.reserve(defects_.size());
    for (int i = 0; i < defects_.size(); ++i) {
        const Defect& d = defects_[i];
        if (!wanted[static_cast<std::size_t>(d.state)] || d.severity < f.leastSeverity ||
            (f.who && d.assignee != *f.who) || (!f.character.isEmpty() && d.build.character != f.character) ||
            (!f.limb.isEmpty() && d.facts.limb != f.limb) || (!f.kind.isEmpty() && d.facts.kind != f.kind) ||
            (f.among && !f.among->contains(d.id)))
            continue;
        const bool meets = std::all_of(words.begin(), words.end(), [&](const QString& w) {
            return said_[i].contains(w) || w == QString::number(d.id) ||
                   (!comments_.isEmpty() && comments_.value(d.id).contains(w));
        });
        if (meets)
            rows << i;
    }
    // One key per row, made once: numbers are compared as numbers, words in their small letters.
    struct Key {
        double number = 0;
        QString words;
    };
    QVector<Key> keys(defects_.size());
    for (int i : rows) {
        const Defect& d = defects_[i];
        Key& k = keys[i];
        switch (order) {
        case DefectOrder::Number:
            break;
        case DefectOrder::What:
            k.words = said_[i]; // it begins with what
            break;
        case DefectOrder::When:
            k.number = d.facts.degrees;
            break;
        case DefectOrder::Severity:
            k.number = d.severity;
            break;
        case DefectOrder::Use: // of what nobody has counted less is known than of what is never reached
            k.number = d.use ? static_cast<double>(d.use->frames) : -1;
            break;
        case DefectOrder::Who:
            k.words = d.assignee.toLower();
            break;
        case DefectOrder::Since:
            k.number = d.build.number;
            k.words = d.build.character;
            break;
        case DefectOrder::State:
            k.number = static_cast<double>(d.state);
            break;
        case DefectOrder::Changed:
            k.number = static_cast<double>(d.changedAt.toMSecsSinceEpoch());
            break;
        }
    }
    if (order == DefectOrder::What || order == DefectOrder::Who || order == DefectOrder::Since) {
        std::stable_sort(rows.begin(), rows.end(), [&](int a, int b) {
            const Key &x = keys[a], &y = keys[b];
            if (x.number != y.number)
                return descending ? y.number < x.number : x.number < y.number;
            if (const int c = x.words.compare(y.words))
                return descending ? c > 0 : c < 0;
            return a < b;
        });
    } else { // after every change of the log: numbers side by side, which sort ten times as fast
        std::vector<std::pair<double, int>> byNumber;
        byNumber.reserve(static_cast<std::size_t>(rows.size()));
        for (int i : rows) {
            const double number = order == DefectOrder::Number ? i : keys[i].number;
            byNumber.push_back({descending ? -number : number, i});
        }
        std::sort(byNumber.begin(), byNumber.end());
        for (std::size_t r = 0; r < byNumber.size(); ++r)
            rows[static_cast<qsizetype>(r)] = byNumber[r].second;
    }
    if (grouping == DefectGrouping::None)
        return {{QString(), rows, 0}};
    QMap<QString, DefectGroup> groups; // by what puts them in order
    for (int i : rows) {
        const Defect& d = defects_[i];
        QString key, title;
        switch (grouping) {
        case DefectGrouping::None:
            break;
        case DefectGrouping::Rigger:
            key = d.assignee.isEmpty() ? QString() : QLatin1Char('x') + d.assignee.toLower();
            title = d.assignee.isEmpty() ? tr("nobody yet") : d.assignee;
            break;
        case DefectGrouping::Limb:
            key = title = d.facts.limb;
            break;
        case DefectGrouping::State:
            key = QString(QChar(u'a' + static_cast<int>(d.state)));
            title = nameOf(d.state);
            break;
        case DefectGrouping::Kind:
            key = title = d.facts.kind;
            break;
        case DefectGrouping::Build:
            key = d.build.character +
                  QStringLiteral("%1").arg(100000 - d.build.number, 6, 10, QLatin1Char('0'));
            title = tr("%1, build %2").arg(d.build.character).arg(d.build.number);
            break;
        case DefectGrouping::Character:
            key = title = d.build.character;
            break;
        }
        DefectGroup& g = groups[key];
        g.title = title;
        g.rows << i;
        g.worst = std::max(g.worst, d.severity);
    }
    return QVector<DefectGroup>(groups.cbegin(), groups.cend());
}

} // namespace hobble
