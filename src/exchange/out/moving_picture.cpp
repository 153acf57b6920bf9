#include "exchange/out/moving_picture.h"
#include "base/say.h"
#include <cmath>
#include <optional>
#include <webp/encode.h>
#include <webp/mux.h>

namespace vicinal {

struct MovingPicture::State {
    int width, height;
    double step; ///< ms
    long count = 0;
    WebPAnimEncoder* encoder = nullptr;
    ~State() { WebPAnimEncoderDelete(encoder); }
    int time(long k) const { return int(std::lround(double(k) * step)); }
};

MovingPicture::MovingPicture(int width, int height, double fps) : m_state(std::make_unique<State>()) {
    *m_state = {width, height, 1000 / fps, 0, nullptr};
    WebPAnimEncoderOptions options;
    if (!(fps > 0) || width < 1 || height < 1 || width > 16383 || height > 16383 ||
        !WebPAnimEncoderOptionsInit(&options))
        return; // add() says so
    options.anim_params.loop_count = 0;
    options.minimize_size = 0;
    m_state->encoder = WebPAnimEncoderNew(width, height, &options);
}

MovingPicture::~MovingPicture() = default;

std::optional<Problem> MovingPicture::add(const std::uint8_t* pixels, int stride) {
    State& s = *m_state;
    if (!s.encoder)
        return Problem{"A moving picture of " + say::count(s.width) + " x " + say::count(s.height) +
                           " cannot be made. Use 1 to 16383 pixels a side.",
                       "size"};
    WebPConfig config;
    WebPPicture picture;
    if (!WebPConfigInit(&config) || !WebPPictureInit(&picture) || !WebPConfigLosslessPreset(&config, 2))
        return Problem{"The library for moving pictures is another version than it was built for.", ""};
    picture.width = s.width;
    picture.height = s.height;
    picture.use_argb = 1;
    const bool good = WebPPictureImportBGRA(&picture, pixels, stride) &&
                      WebPAnimEncoderAdd(s.encoder, &picture, s.time(s.count), &config);
    WebPPictureFree(&picture);
    if (!good)
        return Problem{
            "Picture " + say::count(s.count + 1) + " cannot be added: " + WebPAnimEncoderGetError(s.encoder) + ".", ""};
    ++s.count;
    return std::nullopt;
}

Result<std::string> MovingPicture::finish() {
    State& s = *m_state;
    if (s.count == 0) return Problem{"A moving picture needs at least one picture.", "frames"};
    WebPData data;
    WebPDataInit(&data);
    if (!WebPAnimEncoderAdd(s.encoder, nullptr, s.time(s.count), nullptr) ||
        !WebPAnimEncoderAssemble(s.encoder, &data)) {
        WebPDataClear(&data);
        return Problem{Words("The moving picture cannot be put together: ") + WebPAnimEncoderGetError(s.encoder) + ".",
                       ""};
    }
    std::string bytes(reinterpret_cast<const char*>(data.bytes), data.size);
    WebPDataClear(&data);
    return bytes;
}

} // namespace vicinal
