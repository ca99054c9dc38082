// The radio beside the emulated board.
#include <cmath>
#include "emulator/emulated_board.hpp"

namespace hinge::emulator {

// Two ends whose rates differ by more than half a bit in ten do not understand each other.
bool EmulatedBoard::sameRate() const {
    const double rate = chip_->serialRate(wiring_.radio->port);
    return rate > 0.0 && std::abs(rate / wiring_.radio->baud - 1.0) < 0.05;
}

void EmulatedBoard::sayByRadio(std::string_view bytes) {
    if (!radio_) return;
    if (const int port = wiring_.radio->port; port > 0) {
        if (sameRate()) chip_->send(bytes, port);
        return;
    }
    for (const auto& [cycle, high] : radio_->edgesOf(bytes, chip_->cycle()))
        driveLater(wiring_.radio->in, static_cast<double>(cycle - chip_->cycle()) / chip_->clock(), high);
}

std::string EmulatedBoard::radioAnswers() {
    if (!radio_) return {};
    if (const int port = wiring_.radio->port; port > 0) {
        const auto bytes = chip_->received(port);
        return sameRate() ? bytes : std::string{};
    }
    return radio_->heard(chip_->cycle());
}

}  // namespace hinge::emulator
