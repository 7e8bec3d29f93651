#pragma once
// Base64 (RFC 4648), as data URIs have it.
#include <string>

namespace hobble {

std::string toBase64(const std::string& bytes);
std::string fromBase64(const std::string& text); // empty where it is none

} // namespace hobble
