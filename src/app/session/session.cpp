#include "app/session/session.h"

#include "app/session/recent_shelf.h"
#include "io/measured_cache.h"

#include <QStandardPaths>

namespace hobble {

namespace {

std::shared_ptr<MeasuredStore> measuredStore() {
    return std::make_shared<MeasuredCache>(
        (QStandardPaths::writableLocation(QStandardPaths::CacheLocation) + QStringLiteral("/measured"))
            .toStdString());
}

} // namespace

Session::Session(QObject* parent)
    : QObject(parent), shared_(measuredStore()), log_(shared_), build_(shared_, log_),
      plan_(shared_, build_, log_), pose_(shared_, build_, plan_), run_(shared_, build_, plan_, log_),
      exposure_(shared_, build_, plan_, pose_, run_, log_), mend_(shared_, build_, plan_, run_, log_),
      compare_(shared_, build_, plan_, run_, log_) {
    RecentShelf::follow(*this);
    connect(&run_, &RunDesk::methodChanged, this, [this] { pose_.view().setMethod(run_.method()); });
}

// Nothing of a job comes back to a desk that is gone.
Session::~Session() { shared_.jobs.stop(); }

} // namespace hobble
