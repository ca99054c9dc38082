#include "emulator/chip.hpp"
#include <cstdarg>
#include <cstdlib>
#include <cstring>
#include <mutex>
#include <utility>
#include "emulator/bus_clock.hpp"
#include "emulator/image.hpp"
#include "emulator/pin_bus.hpp"
#include "emulator/usb_host.hpp"
#include "files/folder.hpp"

namespace hinge::emulator {

struct Chip::Library {
    avr_t* avr = nullptr;
    avr_adc_t* adc = nullptr;

    ~Library() {
        if (avr == nullptr) return;
        // The library's own clean-up leaves these behind.
        auto& table = avr->interrupts;
        for (int i = 0; i < table.vector_count; ++i) avr_free_irq(table.vector[i]->irq, AVR_INT_IRQ_COUNT);
        avr_free_irq(table.irq, AVR_INT_IRQ_COUNT);
        for (auto& io : avr->io)
            if (io.irq != nullptr) {
                avr_free_irq(io.irq, 9);
                io.irq = nullptr;
            }
        avr_terminate(avr);
        std::free(avr->irq_pool.irq);
        std::free(avr);
    }
};

struct Chip::Serial {
    avr_uart_t* uart = nullptr;
    avr_irq_t* in = nullptr;
    std::string to_chip{}, from_chip{};
    std::uint64_t next_byte = 0;
    bool held = false;  ///< its buffer is full
    std::uint64_t paced = 0;
};

namespace {

void quietLogger(avr_t*, const int, const char*, va_list) {}
void noSleep(avr_t*, avr_cycle_count_t) {}
avr_cycle_count_t stopHere(avr_t*, avr_cycle_count_t, void*) {
    return 0;
}

}  // namespace

Result<std::unique_ptr<Chip>> Chip::load(const std::filesystem::path& file, const std::string& mcu, std::uint32_t clock) {
    const auto bytes = files::readWhole(file, largest_image);
    if (!bytes) return tl::unexpected(bytes.error());
    return loadBytes(*bytes, file.string(), mcu, clock);
}

Result<std::unique_ptr<Chip>> Chip::loadBytes(std::string_view bytes, const std::string& name, const std::string& mcu,
                                              std::uint32_t clock) {
    static std::once_flag once;
    std::call_once(once, [] { avr_global_logger_set(quietLogger); });
    std::unique_ptr<Chip> chip{new Chip};
    chip->clock_ = clock;
    chip->library_ = std::make_unique<Library>();
    avr_t* avr = avr_make_mcu_by_name(mcu.c_str());
    if (avr == nullptr) return fail(ErrorCode::Unknown, "mcu", mcu, "a chip that the emulator knows");
    avr_init(avr);
    chip->library_->avr = avr;
    auto image =
        name.ends_with(".hex") ? readHex(bytes, name, avr->flashend + 1) : readElf(bytes, name, avr->flashend + 1, avr->e2end + 1u);
    if (!image) return tl::unexpected(image.error());
    elf_firmware_t firmware{};
    firmware.flash = image->flash.data();
    firmware.flashsize = static_cast<std::uint32_t>(image->flash.size());
    firmware.flashbase = image->base;
    firmware.eeprom = image->eeprom.empty() ? nullptr : image->eeprom.data();
    firmware.eesize = static_cast<std::uint32_t>(image->eeprom.size());
    firmware.frequency = clock;
    avr_load_firmware(avr, &firmware);
    avr->frequency = clock;
    avr->vcc = avr->avcc = avr->aref = 5000;
    avr->sleep = noSleep;
    avr->run_cycle_limit = 1600;
    chip->small_ = mcu == "attiny85";
    chip->pins_ = std::make_unique<PinBus>(avr);
    chip->pins_->after_reset = [self = chip.get()] {
        ++self->resets_;
        for (auto& port : self->serial_) port->paced = 0;
        if (self->usb_) self->usb_->reset();
    };
    chip->watchInterrupts(mcu == "atmega2560" || mcu == "atmega32u4" ? 23 : chip->small_ ? 5 : 16);
    chip->fitConverter();
    chip->watchMark();
    chip->fitSerial();
    return chip;
}

// The library enters an interrupt in no time; the chip takes four cycles, five where the return address has three bytes.
void Chip::watchInterrupts(int clock_vector) {
    auto& table = library_->avr->interrupts;
    for (int i = 0; i < table.vector_count; ++i) {
        avr_irq_t* running = table.vector[i]->irq + AVR_INT_IRQ_RUNNING;
        avr_irq_register_notify(
            running,
            [](avr_irq_t*, std::uint32_t value, void* self) {
                auto* chip = static_cast<Chip*>(self);
                auto* avr = chip->library_->avr;
                const std::uint64_t before = avr->cycle;
                if (value != 0) avr->cycle += avr->flashend > 0x1ffff ? 5 : 4, ++chip->entries_;
                // They do not nest: from one's entry to its return is the time in it.
                if (value != 0) chip->entered_ = before;
                else if (chip->entered_ != 0) {
                    chip->in_interrupts_ += avr->cycle - chip->entered_;
                    chip->longest_interrupt_ = std::max(chip->longest_interrupt_, avr->cycle - chip->entered_);
                    chip->entered_ = 0;
                }
            },
            this);
        if (table.vector[i]->vector != clock_vector) continue;
        avr_irq_register_notify(
            running,
            [](avr_irq_t*, std::uint32_t value, void* self) {
                auto* chip = static_cast<Chip*>(self);
                if (value != 0 && chip->clock_ticks_++ == 0) chip->first_clock_tick_ = chip->library_->avr->cycle;
            },
            this);
    }
}

void Chip::fitConverter() {
    avr_t* avr = library_->avr;
    if (auto* trigger = avr_io_getirq(avr, AVR_IOCTL_ADC_GETIRQ, ADC_IRQ_OUT_TRIGGER); trigger != nullptr)
        avr_irq_register_notify(
            trigger,
            [](avr_irq_t*, std::uint32_t, void* self) {
                static_cast<Chip*>(self)->putWaiting();
                static_cast<Chip*>(self)->putWide();
            },
            this);
    // The library has room for eight channels: those above are read through its thermometer, which is set at each conversion's start.
    for (auto* io = avr->io_port; io != nullptr; io = io->next)
        if (std::strcmp(io->kind, "adc") == 0) {
            library_->adc = reinterpret_cast<avr_adc_t*>(io);
            for (auto& mode : library_->adc->muxmode)
                if (mode.kind == ADC_MUX_SINGLE && mode.src >= 8) mode.kind = ADC_MUX_TEMP;
        }
}

void Chip::watchMark() {
    const avr_io_addr_t first_general_purpose = small_ ? 0x31 : 0x3e;
    avr_register_io_write(
        library_->avr, first_general_purpose,
        [](avr_t* avr, avr_io_addr_t address, std::uint8_t value, void* self) {
            avr->data[address] = value;
            if (const auto& mark = static_cast<Chip*>(self)->on_mark) mark(avr->cycle);
        },
        this);
}

void Chip::fitSerial() {
    avr_t* avr = library_->avr;
    for (auto* io = avr->io_port; io != nullptr; io = io->next)
        if (std::strcmp(io->kind, "uart") == 0) {
            serial_.push_back(std::make_unique<Serial>(Serial{.uart = reinterpret_cast<avr_uart_t*>(io)}));
            watchSerial(*serial_.back());
        }
    if (UsbHost::fits(avr)) usb_ = std::make_unique<UsbHost>(avr);
}

void Chip::watchSerial(Serial& port) {
    const char name = port.uart->name;
    std::uint32_t none = 0;
    avr_ioctl(library_->avr, AVR_IOCTL_UART_SET_FLAGS(name), &none);
    const auto irq = [&](int which) { return avr_io_getirq(library_->avr, AVR_IOCTL_UART_GETIRQ(name), which); };
    port.in = irq(UART_IRQ_INPUT);
    avr_irq_register_notify(
        irq(UART_IRQ_OUTPUT),
        [](avr_irq_t*, std::uint32_t value, void* to) { static_cast<Serial*>(to)->from_chip.push_back(static_cast<char>(value)); }, &port);
    avr_irq_register_notify(
        irq(UART_IRQ_OUT_XON), [](avr_irq_t*, std::uint32_t, void* to) { static_cast<Serial*>(to)->held = false; }, &port);
    avr_irq_register_notify(
        irq(UART_IRQ_OUT_XOFF),
        [](avr_irq_t*, std::uint32_t value, void* to) {
            if (value != 0) static_cast<Serial*>(to)->held = true;
        },
        &port);
}

void Chip::attachClock(const board::BusPart& part) {
    bus_clock_ = std::make_unique<BusClock>(library_->avr, part, clock_);
}

Chip::~Chip() {
    bus_clock_.reset();
    pins_.reset();
    library_.reset();
}

// The timer behind millis() overflows every 64 · 256 cycles, as the sketch API sets it.
std::uint64_t Chip::clockTicksDue() const {
    if (small_) return 0;
    const auto* data = library_->avr->data;
    constexpr int tccr0a = 0x44, tccr0b = 0x45, timsk0 = 0x6e;
    if ((data[tccr0b] & 7) != 3 || (data[tccr0a] & 3) != 3 || (data[timsk0] & 1) == 0 || clock_ticks_ == 0) return 0;
    return (library_->avr->cycle - first_clock_tick_) / (64 * 256) + 1;
}

std::uint64_t Chip::cycle() const {
    return library_->avr->cycle;
}

// The library counts eleven bits a byte; a frame has ten.
void Chip::paceSerial() {
    for (auto& port : serial_) {
        if (port->uart->cycles_per_byte == port->paced) continue;
        port->uart->cycles_per_byte = port->uart->cycles_per_byte * 10 / 11;
        port->paced = port->uart->cycles_per_byte;
    }
}

bool Chip::serialWaits() const {
    return !to_chip_.empty() ||
           std::any_of(serial_.begin(), serial_.end(), [](const auto& port) { return !port->to_chip.empty() || port->held; });
}

void Chip::feedSerial(std::uint64_t until) {
    if (usb_) usb_->turn(to_chip_, from_chip_);
    for (auto& port : serial_) {
        std::size_t taken = 0;
        while (taken < port->to_chip.size() && port->next_byte < until && !port->held && port->uart->cycles_per_byte > 0) {
            avr_raise_irq(port->in, static_cast<std::uint8_t>(port->to_chip[taken++]));
            port->next_byte = std::max<std::uint64_t>(port->next_byte, library_->avr->cycle) + port->uart->cycles_per_byte;
        }
        port->to_chip.erase(0, taken);
    }
}

void Chip::letIdleGoBy(std::string_view elf) {
    const auto micros = symbolIn(elf, "micros"), last = symbolIn(elf, "lastTick"), overflows = symbolIn(elf, "timer0_overflow_count");
    // A small chip's clock is another, and over USB the host asks every thousandth of a second.
    if (micros && last && overflows && !small_ && usb_ == nullptr) idle_ = Idle{*micros, *last, *overflows};
}

std::uint32_t Chip::inMemory(std::uint32_t address) const {
    std::uint32_t value = 0;
    if (address + 4 <= library_->avr->ramend) std::memcpy(&value, library_->avr->data + address, 4);
    return value;
}

// Between two calls of micros() by loop() with nothing else in between, one round is like the next: the same memory down to the stack, the
// same registers that a function keeps, no interrupt. As many of them as end before the next event, and before the tick is due, are let go
// by. The last before the tick is always run: that is when it is seen.
void Chip::skipIdle(std::uint64_t until) {
    avr_t* avr = library_->avr;
    if (entered_ != 0 || avr->cycle < look_again_) return;
    // Looking costs two rounds, step by step: where something comes sooner than that is worth, it is simply run.
    const auto comes = [&] {
        return avr->cycle_timers.timer != nullptr ? std::min<std::uint64_t>(until, avr->cycle_timers.timer->when) : until;
    };
    if (comes() < avr->cycle + clock_ / 5000) return;
    const auto limit = avr->run_cycle_limit;
    const std::uint64_t give_up =
        std::min<std::uint64_t>(until, avr->cycle + clock_ / 8000);  // two rounds take less than an eighth of a ms
    const std::size_t ram = avr->ioend + 1u;
    const auto stack = [&] { return static_cast<std::size_t>(avr->data[R_SPL] | avr->data[R_SPH] << 8); };
    // Of the registers those that a function keeps: r2 to r17, r28, r29. What lies below the stack's end is nobody's.
    const auto look = [&](std::vector<std::uint8_t>& into) {
        into.assign(avr->data + 2, avr->data + 18);
        into.insert(into.end(), avr->data + 28, avr->data + 30);
        into.push_back(avr->data[R_SPL]), into.push_back(avr->data[R_SPH]);
        if (const auto end = stack(); end > ram && end <= avr->ramend)
            into.insert(into.end(), avr->data + end, avr->data + avr->ramend + 1),
                into.insert(into.end(), avr->data + ram, avr->data + std::min<std::size_t>(end, ram + 4096));
    };
    avr->run_cycle_limit = 1;
    std::uint64_t first = 0, entries = entries_, round = 0;
    std::vector<std::uint8_t> now;
    while (alive_ && avr->cycle < give_up && round == 0) {
        if (avr->pc == idle_->micros && entered_ == 0) {
            look(now);
            if (first != 0 && entries == entries_ && now == seen_) round = avr->cycle - first;
            if (round != 0) break;
            first = avr->cycle, entries = entries_;
            std::swap(seen_, now);
        }
        const int state = avr_run(avr);
        if (state != cpu_Running) break;
    }
    avr->run_cycle_limit = limit;
    if (round == 0) look_again_ = avr->cycle + clock_ / 20000;
    if (round == 0) return;
    const std::uint64_t event = comes();
    // The time as the sketch sees it, to the count of its timer; it is due a little before a thousand, by what a count and a round may
    // hide.
    constexpr int tcnt0 = 0x46;
    const auto& io = avr->io[AVR_DATA_TO_IO(tcnt0)];
    const std::uint32_t count = io.r.c != nullptr ? io.r.c(avr, tcnt0, io.r.param) : avr->data[tcnt0];
    const std::uint32_t per_count = 64u * 1'000'000u / clock_, micros = (inMemory(idle_->overflows) * 256 + (count & 0xff)) * per_count;
    const std::uint32_t since = micros - inMemory(idle_->last_tick);
    look_again_ = avr->cycle + clock_ / 20000;
    if (since + 4 * per_count >= 1000) return;
    const std::uint64_t due = avr->cycle + static_cast<std::uint64_t>(1000 - since - 4 * per_count) * (clock_ / 1'000'000u);
    const std::uint64_t end = std::min(due, event);
    if (end < avr->cycle + 2 * round + 64) return;
    const std::uint64_t rounds = (end - avr->cycle - round - 64) / round;
    avr->cycle += rounds * round;
    idled_ += rounds * round;
    look_again_ = 0;
}

bool Chip::runTo(std::uint64_t target) {
    avr_t* avr = library_->avr;
    while (alive_ && avr->cycle < target) {
        // Short slices, so that serial bytes arrive at their pace; longer ones where none wait and the loop may be let go by.
        const bool waits = !idle_ || serialWaits();
        const std::uint64_t slice = std::min<std::uint64_t>(target, avr->cycle + clock_ / (waits ? 10000 : 1000));
        paceSerial();
        feedSerial(slice);
        avr_cycle_timer_register(avr, slice - avr->cycle, stopHere, nullptr);
        while (alive_ && avr->cycle < slice) {
            const int state = avr_run(avr);
            if (state == cpu_Done || state == cpu_Crashed) alive_ = false;
            else if (idle_ && state == cpu_Running) skipIdle(slice);
        }
        // A converter that runs freely tells of no start.
        if (avr->cycle > waits_since_ + clock_ / 2000) putWaiting();
        avr_cycle_timer_cancel(avr, stopHere, nullptr);
    }
    return alive_;
}

void Chip::setAnalogue(int channel, int reading) {
    if (channel < 0 || channel >= static_cast<int>(waiting_.size())) return;
    const std::size_t control_and_status = small_ ? 0x26 : 0x7a;  // ADCSRA
    constexpr std::uint8_t converting = 0x40;                     // ADSC
    if ((library_->avr->data[control_and_status] & converting) == 0) return putAnalogue(static_cast<std::size_t>(channel), reading);
    waiting_[static_cast<std::size_t>(channel)] = reading;
    waits_since_ = library_->avr->cycle;
}

void Chip::putWaiting() {
    for (std::size_t channel = 0; channel < waiting_.size(); ++channel)
        if (waiting_[channel] >= 0) putAnalogue(channel, std::exchange(waiting_[channel], -1));
}

void Chip::putWide() {
    auto* adc = library_->adc;
    if (adc == nullptr) return;
    int mux = 0;
    for (int bit = 0; bit < 6; ++bit)
        if (adc->mux[bit].reg != 0) mux |= avr_regbit_get(library_->avr, adc->mux[bit]) << bit;
    const auto& mode = adc->muxmode[mux];
    if (mode.kind == ADC_MUX_TEMP && mode.src >= 8 && mode.src < 16) adc->temp = wide_[mode.src - 8u];
}

void Chip::putAnalogue(std::size_t channel, int reading) {
    waiting_[channel] = -1;
    // The library scales millivolts by 1023 over the reference and cuts off: the next millivolt up gives the reading back.
    const std::uint32_t reference = library_->avr->avcc, millivolts = (static_cast<std::uint32_t>(reading) * reference + 1022) / 1023;
    if (channel >= 8) {
        wide_[channel - 8] = static_cast<std::uint16_t>(millivolts);
        return;
    }
    auto* irq = avr_io_getirq(library_->avr, AVR_IOCTL_ADC_GETIRQ, ADC_IRQ_ADC0 + static_cast<int>(channel));
    if (irq != nullptr) avr_raise_irq(irq, millivolts);
}

void Chip::cutPower() {
    avr_reset(library_->avr);
    to_chip_.clear();
    for (auto& port : serial_) port->to_chip.clear(), port->next_byte = 0, port->held = false;
    entered_ = 0;
    look_again_ = 0;
    alive_ = true;
}

bool Chip::hasSerial() const {
    return usb_ != nullptr || !serial_.empty();
}

Chip::Serial* Chip::serialOf(int port) const {
    const auto found = std::find_if(serial_.begin(), serial_.end(), [&](const auto& each) { return each->uart->name == '0' + port; });
    return found == serial_.end() ? nullptr : found->get();
}

void Chip::send(std::string_view bytes, int port) {
    if (port == 0 && usb_) to_chip_ += bytes;
    else if (auto* to = serialOf(port)) to->to_chip += bytes;
}
std::string Chip::received(int port) {
    if (port == 0 && usb_) return std::exchange(from_chip_, {});
    auto* from = serialOf(port);
    return from == nullptr ? std::string{} : std::exchange(from->from_chip, {});
}

double Chip::serialRate(int port) const {
    const auto* at = serialOf(port);
    // Ten bits a byte.
    return at == nullptr || at->uart->cycles_per_byte == 0 ? 0.0 : 10.0 * clock_ / static_cast<double>(at->uart->cycles_per_byte);
}

}  // namespace hinge::emulator
