#pragma once
// JSON read with words for what is wrong in it.
#include "base/result.h"
#include "base/vec.h"
#include <nlohmann/json_fwd.hpp>
#include <span>
#include <string>
#include <vector>

namespace vicinal {

using Json = nlohmann::ordered_json;

inline constexpr long kLargestId = 1'000'000'000;

Json vec(const Vec3&);

/// Reading throws Problem (caught at the top) so that every value can say where it stands.
struct JsonReader {
    [[noreturn]] static void fail(const std::string& where, const std::string& what);
    static const Json& member(const Json& j, const std::string& where, const char* key);
    static double number(const Json& j, const std::string& where, const char* key);
    /// Also beyond the largest length: a very flat arc has its centre far out.
    static double finite(const Json& j, const std::string& where, const char* key);
    static int id(const Json& j, const std::string& where, const char* key);
    static long whole(const Json& j, const std::string& where, const char* key);
    static bool yes(const Json& j, const std::string& where, const char* key);
    static std::string word(const Json& j, const std::string& where, const char* key);
    static int choice(const Json& j, const std::string& where, const char* key, std::span<const char* const> words);
    static Vec3 vector(const Json& j, const std::string& where);
    static std::vector<double> numbers(const Json& j, const std::string& where);
    static const Json& list(const Json& j, const std::string& where, const char* key);
};

} // namespace vicinal
