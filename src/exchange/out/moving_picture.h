#pragma once
// Pictures one after the other as one animated WebP.
#include "base/result.h"
#include <cstdint>
#include <memory>
#include <optional>
#include <string>

namespace vicinal {

/// Takes one picture after the other, all of one size, and gives the bytes of the file in the end. Without loss.
class MovingPicture {
public:
    /// Sizes in pixels, 1 to 16383 (what the format holds); `fps` pictures a second.
    MovingPicture(int width, int height, double fps);
    ~MovingPicture();
    MovingPicture(const MovingPicture&) = delete;
    MovingPicture& operator=(const MovingPicture&) = delete;

    /// Rows of pixels from above, 4 bytes each in the order blue, green, red, opaqueness; `stride`: bytes a row.
    std::optional<Problem> add(const std::uint8_t* pixels, int stride);
    /// It plays again and again.
    Result<std::string> finish();

private:
    struct State;
    std::unique_ptr<State> m_state;
};

} // namespace vicinal
