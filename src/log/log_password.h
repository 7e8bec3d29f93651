#pragma once
// Passwords of servers, for as long as the program runs: never part of an address, of settings or of a
// message. libpq's own files come first: a password is given here only when a server wants one that they do
// not hold.
#include "log/log_address.h"

namespace hobble {

/// Every connection to that place gets it from here on; an empty one is forgotten.
void usePassword(const QString& place, const QString& password);
QString passwordFor(const LogAddress& address);

/// What a password is kept under: its place without options, "postgresql://petra@db.example/hobble".
QString passwordKey(const LogAddress& address);

/// Whether a server refuses for want of the right password. Asks the server; not on the window's thread.
bool wantsPassword(const LogAddress& address);

} // namespace hobble
