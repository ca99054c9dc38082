#include "emulator/pin_bus.hpp"
#include <cstring>

namespace hinge::emulator {

PinBus::PinBus(avr_t* avr) : avr_{avr}, cycle_limit_{avr->run_cycle_limit} {
    for (auto* io = avr_->io_port; io != nullptr; io = io->next) {
        if (std::strcmp(io->kind, "port") != 0) continue;
        auto port = std::make_unique<Port>();
        port->port = reinterpret_cast<avr_ioport_t*>(io);
        port->bus = this;
        const avr_io_addr_t registers[3] = {port->port->r_port, port->port->r_ddr, port->port->r_pin};
        for (int i = 0; i < 3; ++i) {
            auto& handler = avr_->io[AVR_DATA_TO_IO(registers[i])];
            port->write[i] = handler.w.c;
            port->write_parameter[i] = handler.w.param;
            handler.w.c = onPortWrite;
            handler.w.param = port.get();
        }
        auto& pin = avr_->io[AVR_DATA_TO_IO(registers[2])];
        pin.r.c = onPinRead;
        pin.r.param = port.get();
        ports_.push_back(std::move(port));
    }
    for (auto* io = avr_->io_port; io != nullptr; io = io->next)
        if (std::strcmp(io->kind, "timer") == 0)
            timers_.push_back(std::make_unique<TimerModel>(avr_, reinterpret_cast<avr_timer_t*>(io), this));
    // Last in the list: runs after every peripheral's own reset, the watchdog's too.
    hook_.bus = this;
    hook_.io.kind = "pinbus";
    hook_.io.avr = avr_;
    hook_.io.reset = [](avr_io_t* io) { reinterpret_cast<ResetHook*>(io)->bus->onReset(); };
    auto* last = avr_->io_port;
    while (last->next != nullptr) last = last->next;
    last->next = &hook_.io;
    stopPolling();
}

PinBus::~PinBus() {
    for (auto* io = avr_->io_port; io != nullptr; io = io->next)
        if (io->next == &hook_.io) {
            io->next = nullptr;
            break;
        }
}

// Without this the library polls every cycle while an interrupt pin is low: ten times slower.
void PinBus::stopPolling() {
    for (std::uint8_t i = 0; i < EXTINT_COUNT; ++i) avr_extint_set_strict_lvl_trig(avr_, i, 0);
}

void PinBus::onReset() {
    avr_->run_cycle_limit = cycle_limit_;
    for (auto& timer : timers_) timer->reset();
    for (auto& port : ports_) {
        port->override_mask = port->override_level = 0;
        update(*port, avr_->cycle);
    }
    stopPolling();
    if (after_reset) after_reset();
}

PinBus::Port* PinBus::find(char name) const {
    for (const auto& port : ports_)
        if (port->port->name == name) return port.get();
    return nullptr;
}

bool PinBus::isOutput(char port, int bit) const {
    const auto* found = find(port);
    return found != nullptr && (avr_->data[found->port->r_ddr] >> bit & 1) != 0;
}

bool PinBus::level(char port, int bit) const {
    const auto* found = find(port);
    return found != nullptr && (found->level >> bit & 1) != 0;
}

void PinBus::update(Port& port, std::uint64_t when) {
    const std::uint8_t direction = avr_->data[port.port->r_ddr];
    const std::uint8_t value = avr_->data[port.port->r_port];
    const auto out = static_cast<std::uint8_t>((value & ~port.override_mask) | (port.override_level & port.override_mask));
    const auto in = static_cast<std::uint8_t>((port.driven_level & port.driven) | (value & ~port.driven));
    const auto now = static_cast<std::uint8_t>((out & direction) | (in & ~direction));
    const auto changed = static_cast<std::uint8_t>(now ^ port.level);
    port.level = now;
    if (changed == 0 || !on_edge) return;
    for (int bit = 0; bit < 8; ++bit)
        if ((changed >> bit & 1) != 0) on_edge(port.port->name, bit, (now >> bit & 1) != 0, when);
}

void PinBus::setOverride(avr_io_addr_t port_register, int bit, bool enabled, bool level, std::uint64_t when) {
    for (auto& port : ports_) {
        if (port->port->r_port != port_register) continue;
        const auto mask = static_cast<std::uint8_t>(1 << bit);
        port->override_mask = static_cast<std::uint8_t>(enabled ? port->override_mask | mask : port->override_mask & ~mask);
        port->override_level = static_cast<std::uint8_t>(level ? port->override_level | mask : port->override_level & ~mask);
        update(*port, when);
    }
}

void PinBus::drive(char name, int bit, bool level) {
    auto* port = find(name);
    if (port == nullptr) return;
    const auto mask = static_cast<std::uint8_t>(1 << bit);
    port->driven = static_cast<std::uint8_t>(port->driven | mask);
    port->driven_level = static_cast<std::uint8_t>(level ? port->driven_level | mask : port->driven_level & ~mask);
    // Otherwise the library pulls a pulled-up input high again at the next write to its port.
    avr_ioport_external_t external{};
    external.name = static_cast<unsigned long>(name) & 0x7f;
    external.mask = port->driven;
    external.value = static_cast<unsigned long>(port->driven_level & port->driven);
    avr_ioctl(avr_, AVR_IOCTL_IOPORT_SET_EXTERNAL(name), &external);
    if ((avr_->data[port->port->r_ddr] & mask) == 0) avr_raise_irq(avr_io_getirq(avr_, AVR_IOCTL_IOPORT_GETIRQ(name), bit), level ? 1 : 0);
    update(*port, avr_->cycle);
}

void PinBus::onPortWrite(avr_t* avr, avr_io_addr_t address, std::uint8_t value, void* parameter) {
    auto* port = static_cast<Port*>(parameter);
    const int which = address == port->port->r_port ? 0 : address == port->port->r_ddr ? 1 : 2;
    port->write[which](avr, address, value, port->write_parameter[which]);
    port->bus->update(*port, avr->cycle);
}

std::uint8_t PinBus::onPinRead(avr_t* avr, avr_io_addr_t address, void* parameter) {
    auto* port = static_cast<Port*>(parameter);
    avr->data[address] = port->level;
    return port->level;
}

}  // namespace hinge::emulator
