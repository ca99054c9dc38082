#include "board/pwm_pool.hpp"
#include <cmath>

namespace hinge::board {

std::optional<int> PwmPool::take(double frequency, int bits) {
    for (std::size_t t = 0; t < most_; ++t) {
        if (t == timers_.size()) timers_.push_back({frequency, bits, 0});
        auto& timer = timers_[t];
        if (timer.outputs < outputs_of_a_pooled_timer && timer.bits == bits && std::abs(timer.frequency / frequency - 1.0) < 1e-6)
            return static_cast<int>(t) * outputs_of_a_pooled_timer + timer.outputs++;
    }
    return std::nullopt;
}

}  // namespace hinge::board
