#include "frozen.h"
#include <algorithm>
#include <cctype>
#include <cmath>
#include <cstdlib>
#include <fstream>
#include <sstream>

namespace vicinal::test {

void Digest::say(const std::string& text) {
    const char* at = text.c_str();
    const char* const end = at + text.size();
    while (at < end) {
        const bool inWord = at > text.c_str() && (std::isalpha(static_cast<unsigned char>(at[-1])) || at[-1] == '#');
        const bool digit = std::isdigit(static_cast<unsigned char>(*at)) ||
                           (*at == '-' && at + 1 < end && std::isdigit(static_cast<unsigned char>(at[1])));
        char* behind = nullptr;
        const double v = digit && !inWord ? std::strtod(at, &behind) : 0;
        if (behind && behind > at && std::isfinite(v)) {
            add(v);
            at = behind;
        } else {
            m_words = (m_words ^ static_cast<unsigned char>(*at++)) * 1099511628211u;
        }
    }
    m_words *= 1099511628211u; // where one text ends
}

void Digest::add(double v) {
    ++m_count;
    if (!std::isfinite(v)) {
        m_words = (m_words ^ (std::isnan(v) ? 1u : 2u)) * 1099511628211u;
        return;
    }
    // One huge number would drown all others.
    constexpr double kLarge = 1e4;
    if (std::abs(v) > kLarge) v = std::copysign(kLarge * (1 + std::log(std::abs(v) / kLarge)), v);
    m_sum += v;
    m_size += std::abs(v);
    m_order += (double(m_count % 97) / 96 + 0.5) * (m_count % 3 ? 1 : -1) * v;
}

void Digest::add(const Digest& o) {
    m_words = (m_words ^ o.m_words) * 1099511628211u;
    const double share = double(m_count % 97) / 96 + 0.5;
    m_count += o.m_count, m_sum += o.m_sum, m_size += o.m_size, m_order += share * o.m_order;
}

void Digest::addAnyhow(const std::vector<Vec3>& all) {
    Vec3 sum = Vec3::Zero();
    double spread = 0, bent = 0;
    for (const Vec3& v : all) {
        sum += v;
        spread += (v - Vec3(11, -7, 5)).norm();
        bent += std::sqrt(std::abs(v.x() + 2 * v.y() + 3 * v.z()));
    }
    add(double(all.size()));
    add(sum), add(spread), add(bent);
}

std::string Digest::line() const {
    std::ostringstream out;
    out.precision(16);
    out << std::hex << m_words << std::dec << " " << m_count << " " << m_sum << " " << m_size << " " << m_order;
    return out.str();
}

Digest Digest::of(const std::string& line) {
    Digest out;
    std::istringstream row(line);
    row >> std::hex >> out.m_words >> std::dec >> out.m_count >> out.m_sum >> out.m_size >> out.m_order;
    return out;
}

bool Digest::like(const Digest& o, bool printed) const {
    const double size = std::max(m_size, o.m_size);
    const double slack = printed ? 1e-9 * (1 + size) + 2e-6 * double(m_count) / 100 : 2e-5 + 2e-11 * size;
    return m_words == o.m_words && m_count == o.m_count && std::abs(m_sum - o.m_sum) <= slack &&
           std::abs(m_size - o.m_size) <= slack && std::abs(m_order - o.m_order) <= 2 * slack;
}

std::vector<std::string> differences(const std::string& name, const Digests& now, bool printed) {
    const std::string file = std::string(VICINAL_SOURCE "/tests/frozen/") + name + ".txt";
    if (std::getenv("VICINAL_FREEZE")) {
        std::ofstream out(file);
        for (const auto& [what, digest] : now) out << what << "\t" << digest.line() << "\n";
        out.flush();
        return out ? std::vector<std::string>{} : std::vector<std::string>{file + " cannot be written"};
    }
    std::vector<std::string> said;
    std::map<std::string, std::string> before;
    std::ifstream in(file);
    for (std::string line; std::getline(in, line);) {
        const size_t tab = line.find('\t');
        if (tab != std::string::npos) before[line.substr(0, tab)] = line.substr(tab + 1);
    }
    for (const auto& [what, digest] : now) {
        const auto was = before.find(what);
        if (was == before.end())
            said.push_back(what + ": was not there");
        else if (!digest.like(Digest::of(was->second), printed))
            said.push_back(what + ": was " + was->second + ", is " + digest.line());
    }
    for (const auto& [what, line] : before)
        if (!now.contains(what)) said.push_back(what + ": is not there any more");
    return said;
}

} // namespace vicinal::test
