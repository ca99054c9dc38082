#include "emulator/usb_host.hpp"
#include <simavr/avr_usb.h>
#include <algorithm>
#include <array>
#include <cstring>

namespace hinge::emulator {
namespace {

// Endpoints of the core's serial port.
constexpr std::uint8_t to_chip = 2, from_chip = 3;
// The library gives what a foreign firmware may have made of an endpoint, whatever room was asked for.
constexpr std::size_t most = 1024;

int transfer(avr_t* avr, std::uint32_t way, std::uint8_t pipe, std::uint8_t* bytes, std::uint32_t& count) {
    avr_io_usb io{pipe, count, bytes};
    const int how = avr_ioctl(avr, way, &io);
    count = io.sz;
    return how;
}

}  // namespace

bool UsbHost::fits(avr_t* avr) {
    for (auto* io = avr->io_port; io != nullptr; io = io->next)
        if (std::strcmp(io->kind, "usb") == 0) return true;
    return false;
}

// The firmware has let go of DETACH, its clock running, and waits for the reset.
bool UsbHost::attached() const {
    constexpr int usbcon = 0xd8, udcon = 0xe0, udien = 0xe2, end_of_reset = 8;
    return (avr_->data[usbcon] & 0x80) != 0 && (avr_->data[udcon] & 1) == 0 && (avr_->data[udien] & end_of_reset) != 0;
}

bool UsbHost::setUp(std::uint8_t type, std::uint8_t request, std::uint8_t value) {
    if (!asked_) {
        std::array<std::uint8_t, 8> packet{type, request, value, 0, 0, 0, 0, 0};
        std::uint32_t count = 8;
        asked_ = transfer(avr_, AVR_IOCTL_USB_SETUP, 0, packet.data(), count) == AVR_IOCTL_USB_OK;
        return false;
    }
    std::array<std::uint8_t, most> nothing{};
    std::uint32_t count = 64;
    if (transfer(avr_, AVR_IOCTL_USB_READ, 0, nothing.data(), count) == AVR_IOCTL_USB_NAK) return false;
    asked_ = false;
    return true;
}

// A frame begins every millisecond, and with it the core sends what it has gathered: the library makes none.
void UsbHost::frame() {
    constexpr int udint = 0xe1, udien = 0xe2, start_of_frame = 4;
    if (avr_->cycle < next_frame_) return;
    next_frame_ = avr_->cycle + avr_->frequency / 1000;
    avr_->data[udint] |= start_of_frame;
    if ((avr_->data[udien] & start_of_frame) == 0) return;
    for (auto* io = avr_->io_port; io != nullptr; io = io->next) {
        if (std::strcmp(io->kind, "usb") != 0) continue;
        const auto wanted = reinterpret_cast<avr_usb_t*>(io)->usb_gen_vect;
        for (int i = 0; i < avr_->interrupts.vector_count; ++i)
            if (avr_->interrupts.vector[i]->vector == wanted) avr_raise_interrupt(avr_, avr_->interrupts.vector[i]);
    }
}

void UsbHost::turn(std::string& outgoing, std::string& received) {
    switch (stage_) {
        case Stage::Away:
            if (!attached()) return;
            avr_ioctl(avr_, AVR_IOCTL_USB_VBUS, reinterpret_cast<void*>(1));
            avr_ioctl(avr_, AVR_IOCTL_USB_RESET, nullptr);
            since_ = avr_->cycle;
            asked_ = false;
            stage_ = Stage::Reset;
            return;
        case Stage::Reset:
            if (avr_->cycle - since_ > avr_->frequency / 200) stage_ = Stage::Configuring;
            return;
        case Stage::Configuring:  // SET_CONFIGURATION 1
            if (setUp(0x00, 9, 1)) stage_ = Stage::Raising;
            return;
        case Stage::Raising:  // SET_CONTROL_LINE_STATE: somebody is there
            if (setUp(0x21, 0x22, 3)) stage_ = Stage::Open;
            return;
        case Stage::Open: break;
    }
    frame();
    std::array<std::uint8_t, most> bytes{};
    for (int k = 0; k < 4; ++k) {
        std::uint32_t count = 64;
        if (transfer(avr_, AVR_IOCTL_USB_READ, from_chip, bytes.data(), count) != AVR_IOCTL_USB_OK) break;
        received.append(reinterpret_cast<const char*>(bytes.data()), std::min<std::size_t>(count, most));
    }
    if (outgoing.empty()) return;
    std::uint32_t count = static_cast<std::uint32_t>(std::min<std::size_t>(outgoing.size(), 64));
    std::copy_n(outgoing.begin(), count, bytes.begin());
    if (transfer(avr_, AVR_IOCTL_USB_WRITE, to_chip, bytes.data(), count) == AVR_IOCTL_USB_OK)
        outgoing.erase(0, std::min<std::size_t>(outgoing.size(), 64));
}

}  // namespace hinge::emulator
