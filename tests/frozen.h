#pragma once
// Answers held against what they were before. Such a test proves nothing right - that is for the others - but it
// notices whatever changes, meant or not: each group of answers is kept as a line of sums, not as the answers
// themselves.
#include "base/vec.h"
#include <cstdint>
#include <map>
#include <string>
#include <vector>

namespace vicinal::test {

/// A group of answers: what they say in words, how many numbers there are, and three sums of them: as they are, of
/// their sizes, and weighted by where they stand.
class Digest {
public:
    /// A text: its words, and the numbers in it.
    void say(const std::string&);
    void add(double);
    void add(const Vec3& v) {
        for (int i = 0; i < 3; ++i) add(v[i]);
    }
    void add(const Mat3& m) {
        for (int i = 0; i < 3; ++i) add(Vec3(m.col(i)));
    }
    void add(const std::vector<double>& all) {
        add(double(all.size()));
        for (double v : all) add(v);
    }
    /// Another group of answers, as a part of this one.
    void add(const Digest&);
    /// In whatever order they come: what is sorted by what is alike comes otherwise on another machine.
    void addAnyhow(const std::vector<Vec3>&);
    std::string line() const;
    static Digest of(const std::string& line);
    /// `printed`: the numbers are as they were printed, so their last digits may fall to either side on another
    /// machine.
    bool like(const Digest&, bool printed) const;

private:
    std::uint64_t m_words = 14695981039346656037u; // FNV-1a
    long m_count = 0;
    double m_sum = 0, m_size = 0, m_order = 0;
};
using Digests = std::map<std::string, Digest>;

/// What differs from tests/frozen/NAME.txt, a line each. With VICINAL_FREEZE in the environment the file is written
/// anew instead: after a look at what changed, and why.
std::vector<std::string> differences(const std::string& name, const Digests& now, bool printed = false);

} // namespace vicinal::test
