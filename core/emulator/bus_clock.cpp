#include "emulator/bus_clock.hpp"

namespace hinge::emulator {
namespace {

std::uint8_t toBcd(int value) {
    return static_cast<std::uint8_t>(value / 10 * 16 + value % 10);
}
int fromBcd(std::uint8_t value) {
    return (value >> 4) * 10 + (value & 15);
}

}  // namespace

BusClock::BusClock(avr_t* avr, const board::BusPart& part, std::uint32_t clock)
    : avr_{avr}, to_chip_{avr_io_getirq(avr, AVR_IOCTL_TWI_GETIRQ(0), TWI_IRQ_INPUT)}, part_{part}, clock_{clock} {
    avr_irq_register_notify(
        avr_io_getirq(avr, AVR_IOCTL_TWI_GETIRQ(0), TWI_IRQ_OUTPUT),
        [](avr_irq_t*, std::uint32_t value, void* self) { static_cast<BusClock*>(self)->hear(value); }, this);
}

void BusClock::restart(int seconds, timing::Date date) {
    seconds_ = seconds;
    date_ = date;
    since_ = avr_->cycle;
}

void BusClock::set(int seconds_after_midnight, timing::Date date) {
    restart(seconds_after_midnight, date);
    halted_ = false;
}

int BusClock::seconds() const {
    return halted_ ? seconds_ : static_cast<int>((static_cast<std::uint64_t>(seconds_) + (avr_->cycle - since_) / clock_) % 86'400);
}

timing::Date BusClock::date() const {
    timing::Date day = date_;
    if (halted_) return day;
    for (auto left = (static_cast<std::uint64_t>(seconds_) + (avr_->cycle - since_) / clock_) / 86'400; left > 0; --left)
        day = timing::dayAfter(day);
    return day;
}

std::uint8_t BusClock::read(int reg) const {
    const int now = seconds();
    const auto day = date();
    std::uint8_t value = 0;
    for (const auto& field : part_.fields) {
        if (field.reg != reg) continue;
        if (field.name == "seconds") value |= toBcd(now % 60);
        else if (field.name == "minutes") value |= toBcd(now / 60 % 60);
        else if (field.name == "hours") value |= toBcd(now / 3600);
        else if (field.name == "weekday") value |= toBcd(timing::weekdayOf(day) + 1);
        else if (field.name == "day") value |= toBcd(day.day);
        else if (field.name == "month") value |= toBcd(day.month);
        else if (field.name == "year") value |= toBcd(day.year % 100);
        else if (field.name == "halted" && halted_) value |= 0x80;
    }
    return value;
}

void BusClock::write(int reg, std::uint8_t value) {
    int now = seconds();
    auto day = date();
    for (const auto& field : part_.fields) {
        if (field.reg != reg) continue;
        if (field.name == "seconds") now = now / 60 * 60 + fromBcd(value & 0x7f), halted_ = (value & 0x80) != 0;
        else if (field.name == "minutes") now = now / 3600 * 3600 + fromBcd(value) * 60 + now % 60;
        else if (field.name == "hours") now = fromBcd(value & 0x3f) * 3600 + now % 3600;
        else if (field.name == "day") day.day = fromBcd(value);
        else if (field.name == "month") day.month = fromBcd(value & 0x1f);
        else if (field.name == "year") day.year = 2000 + fromBcd(value);
    }
    restart(now, day);
}

void BusClock::hear(std::uint32_t message) {
    avr_twi_msg_irq_t heard;
    heard.u.v = message;
    const auto answer = [&](std::uint8_t what, std::uint8_t data) {
        avr_raise_irq(to_chip_, avr_twi_irq_msg(what, heard.u.twi.addr, data));
    };
    const auto what = heard.u.twi.msg;
    if ((what & TWI_COND_STOP) != 0) selected_ = pointed_ = false;
    if ((what & TWI_COND_START) != 0) {
        selected_ = !gone_ && heard.u.twi.addr >> 1 == part_.address;
        if (selected_) answer(TWI_COND_ACK, 1);
        if ((heard.u.twi.addr & 1) == 0) pointed_ = false;
        return;
    }
    if (!selected_) return;
    if ((what & TWI_COND_WRITE) != 0) {
        answer(TWI_COND_ACK, 1);
        if (!pointed_) reg_ = heard.u.twi.data, pointed_ = true;
        else write(reg_++, heard.u.twi.data);
    }
    if ((what & TWI_COND_READ) != 0) answer(TWI_COND_READ, read(reg_++));
}

}  // namespace hinge::emulator
