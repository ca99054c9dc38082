#include "emulator/timer_model.hpp"
#include <algorithm>
#include "emulator/pin_bus.hpp"

namespace hinge::emulator {

TimerModel::TimerModel(avr_t* avr, avr_timer_t* timer, PinBus* bus)
    : avr_{avr}, timer_{timer}, bus_{bus}, widest_{timer->r_tcnth != 0 ? 0xffff : 0xff} {
    const auto mine = [&](const void* parameter) {
        if (parameter == timer_) return true;
        return std::any_of(std::begin(timer_->comp), std::end(timer_->comp), [&](const auto& compare) { return parameter == &compare; });
    };
    for (auto& io : avr_->io) {
        if (io.w.c != nullptr && mine(io.w.param)) io.w.c = onWrite, io.w.param = this;
        if (io.r.c != nullptr && mine(io.r.param)) io.r.c = onRead, io.r.param = this;
    }
    for (auto& shared : avr_->io_shared_io)
        for (int k = 0; k < shared.used; ++k)
            if (mine(shared.io[k].param)) {
                shared.io[k].c = reinterpret_cast<void*>(onWrite);
                shared.io[k].param = this;
            }
    if (timer_->r_icr != 0) {
        auto& io = avr_->io[AVR_DATA_TO_IO(timer_->r_icr)];
        io.w.c = onWrite;
        io.w.param = this;
    }
    avr_cycle_timer_cancel(avr_, onEvent, this);
    decodeMode();
}

std::uint32_t TimerModel::reg(avr_io_addr_t low, avr_io_addr_t high) const {
    return avr_->data[low] | (high != 0 ? static_cast<std::uint32_t>(avr_->data[high]) << 8 : 0u);
}

std::int64_t TimerModel::top() const {
    if (top_from_ == TopFrom::CompareA) return compare_[0];
    if (top_from_ == TopFrom::Capture) return reg(timer_->r_icr, timer_->r_icrh);
    return fixed_top_;
}

std::int64_t TimerModel::period(std::int64_t at) const {
    const auto t = top();
    if (dual()) return t > 0 ? 2 * t : 1;
    return at > t ? widest_ + 1 : t + 1;  // past TOP the counter runs to its end
}

void TimerModel::decodeMode() {
    int bits = 0;
    for (int i = 0; i < 4; ++i)
        if (timer_->wgm[i].reg != 0) bits |= avr_regbit_get(avr_, timer_->wgm[i]) << i;
    struct Mode {
        Wave wave;
        TopFrom top;
        std::int64_t fixed;
    };
    using W = Wave;
    using T = TopFrom;
    static constexpr std::array<Mode, 8> narrow{{{W::Normal, T::Fixed, 0xff},
                                                 {W::PhaseCorrect, T::Fixed, 0xff},
                                                 {W::Ctc, T::CompareA, 0},
                                                 {W::Fast, T::Fixed, 0xff},
                                                 {W::Normal, T::Fixed, 0xff},
                                                 {W::PhaseCorrect, T::CompareA, 0},
                                                 {W::Normal, T::Fixed, 0xff},
                                                 {W::Fast, T::CompareA, 0}}};
    static constexpr std::array<Mode, 16> wide{{{W::Normal, T::Fixed, 0xffff},
                                                {W::PhaseCorrect, T::Fixed, 0xff},
                                                {W::PhaseCorrect, T::Fixed, 0x1ff},
                                                {W::PhaseCorrect, T::Fixed, 0x3ff},
                                                {W::Ctc, T::CompareA, 0},
                                                {W::Fast, T::Fixed, 0xff},
                                                {W::Fast, T::Fixed, 0x1ff},
                                                {W::Fast, T::Fixed, 0x3ff},
                                                {W::PhaseFrequencyCorrect, T::Capture, 0},
                                                {W::PhaseFrequencyCorrect, T::CompareA, 0},
                                                {W::PhaseCorrect, T::Capture, 0},
                                                {W::PhaseCorrect, T::CompareA, 0},
                                                {W::Ctc, T::Capture, 0},
                                                {W::Normal, T::Fixed, 0xffff},
                                                {W::Fast, T::Capture, 0},
                                                {W::Fast, T::CompareA, 0}}};
    const Mode mode = widest_ == 0xff ? narrow[static_cast<std::size_t>(bits & 7)] : wide[static_cast<std::size_t>(bits & 15)];
    wave_ = mode.wave;
    top_from_ = mode.top;
    fixed_top_ = mode.fixed;
    // While ICR is TOP, its pin captures nothing (data sheet, input capture unit); the library looks here.
    timer_->mode.top = top_from_ == TopFrom::Capture ? avr_timer_wgm_reg_icr : avr_timer_wgm_reg_constant;
    if (!pwm()) load();
}

std::uint32_t TimerModel::selectedPrescaler() const {
    int bits = 0;
    for (int i = 0; i < 4; ++i)
        if (timer_->cs[i].reg != 0) bits |= avr_regbit_get(avr_, timer_->cs[i]) << i;
    if (bits == 0) return 0;
    const auto shift = timer_->cs_div[bits];
    return shift == AVR_TIMER_EXTCLK_CHOOSE ? 0 : 1u << shift;
}

std::uint32_t TimerModel::count() const {
    if (prescaler_ == 0) return held_;
    auto at = static_cast<std::int64_t>((avr_->cycle - origin_) / prescaler_);
    at %= period(at);
    return static_cast<std::uint32_t>(dual() && at > top() ? 2 * top() - at : at);
}

void TimerModel::setCount(std::uint32_t count) {
    done_ = count;
    held_ = count;
    if (prescaler_ != 0)
        origin_ = avr_->cycle / prescaler_ * prescaler_ - static_cast<std::uint64_t>(count) * prescaler_;  // the prescaler runs free
}

void TimerModel::act(int index, bool bottom, bool down, std::uint64_t when) {
    const auto i = static_cast<std::size_t>(index);
    const int mode = mode_[i];
    bool level = latch_[i];
    const bool toggles = mode == 1 && index == 0 && top_from_ == TopFrom::CompareA;
    if (!pwm()) {
        if (!bottom) level = mode == 1 ? !level : mode == 2 ? false : mode == 3 ? true : level;
    } else if (dual()) {
        if (mode == 2) level = down;
        else if (mode == 3) level = !down;
        else if (toggles && !bottom) level = !level;
    } else {
        if (mode == 2) level = bottom;
        else if (mode == 3) level = !bottom;
        else if (toggles && !bottom) level = !level;
    }
    if (level == latch_[i]) return;
    latch_[i] = level;
    connectOutputs(when);
}

void TimerModel::match(int i) {
    avr_raise_interrupt(avr_, &timer_->comp[i].interrupt);
}

std::int64_t TimerModel::nextTick() const {
    const auto length = period(done_);
    const auto t = top();
    std::int64_t next = length;
    const auto consider = [&](std::int64_t tick) {
        if (tick > done_ && tick < next) next = tick;
    };
    for (int i = 0; i < compares; ++i) {
        if (!has(i)) continue;
        const std::int64_t value = compare_[static_cast<std::size_t>(i)];
        if (!dual()) consider(value + 1);
        else if (value < t) consider(value), consider(2 * t - value);
    }
    if (dual()) consider(t);
    return next;
}

void TimerModel::advance(std::uint64_t now) {
    while (prescaler_ != 0) {
        const auto next = nextTick();
        const auto when = origin_ + static_cast<std::uint64_t>(next) * prescaler_;
        if (when > now) return;
        done_ = next;
        if (dual()) fireDual(next, when);
        else fireSingle(next, when);
    }
}

void TimerModel::fireSingle(std::int64_t tick, std::uint64_t when) {
    const auto length = period(tick - 1);
    for (int i = 0; i < compares; ++i) {
        if (!has(i) || static_cast<std::int64_t>(compare_[static_cast<std::size_t>(i)]) + 1 != tick) continue;
        match(i);
        // At TOP of fast PWM the update at BOTTOM wins, so that full duty has no gap.
        if (!(tick == length && wave_ == Wave::Fast && mode_[static_cast<std::size_t>(i)] != 1)) act(i, false, false, when);
    }
    if (tick != length) return;
    origin_ = when;
    done_ = 0;
    if (wave_ == Wave::Fast) {
        load();
        for (int i = 0; i < compares; ++i)
            if (has(i)) act(i, true, false, when);
    }
    if (wave_ != Wave::Ctc || length == widest_ + 1) avr_raise_interrupt(avr_, &timer_->overflow);
    if (top_from_ == TopFrom::Capture) avr_raise_interrupt(avr_, &timer_->icr);
}

void TimerModel::fireDual(std::int64_t tick, std::uint64_t when) {
    const auto t = top();
    const auto length = period(tick);
    for (int i = 0; i < compares; ++i) {
        const std::int64_t value = compare_[static_cast<std::size_t>(i)];
        if (!has(i) || value >= t) continue;
        if (value == tick) match(i), act(i, false, false, when);
        else if (2 * t - value == tick && tick != length) match(i), act(i, false, true, when);
    }
    if (tick == t) {
        if (wave_ == Wave::PhaseCorrect) load();
        if (top_from_ == TopFrom::Capture) avr_raise_interrupt(avr_, &timer_->icr);
        for (int i = 0; i < compares; ++i)
            if (has(i) && static_cast<std::int64_t>(compare_[static_cast<std::size_t>(i)]) >= t) match(i), act(i, false, true, when);
    }
    if (tick != length) return;
    origin_ = when;
    done_ = 0;
    // A TOP of 0 is TOP and BOTTOM at once: the buffer is taken over here, or it never would be.
    if (wave_ == Wave::PhaseFrequencyCorrect || t == 0) load();
    for (int i = 0; i < compares; ++i)
        if (has(i) && compare_[static_cast<std::size_t>(i)] == 0) match(i), act(i, false, false, when);
    avr_raise_interrupt(avr_, &timer_->overflow);
}

void TimerModel::connectOutputs(std::uint64_t when) {
    for (std::size_t i = 0; i < compares; ++i) {
        const auto& pin = timer_->comp[i].com_pin;
        if (pin.reg == 0 || (!enabled_[i] && !was_enabled_[i])) continue;
        was_enabled_[i] = enabled_[i];
        bus_->setOverride(pin.reg, static_cast<int>(pin.bit), enabled_[i], latch_[i], when);
    }
}

void TimerModel::reset() {
    avr_cycle_timer_cancel(avr_, onEvent, this);
    wave_ = Wave::Normal;
    top_from_ = TopFrom::Fixed;
    fixed_top_ = widest_;
    prescaler_ = 0;
    origin_ = avr_->cycle;
    done_ = 0;
    held_ = 0;
    compare_ = buffered_ = {};
    latch_ = enabled_ = was_enabled_ = {};
    mode_ = {};
    timer_->tov_cycles = 0;
}

void TimerModel::mirror() {  // what the library itself still reads, for input capture
    timer_->tov_base = origin_;
    timer_->tov_top = static_cast<std::uint16_t>(top());
    timer_->tov_cycles = prescaler_ != 0 ? static_cast<std::uint64_t>(prescaler_) * static_cast<std::uint64_t>(top() + 1) : 0;
}

void TimerModel::schedule() {
    avr_cycle_timer_cancel(avr_, onEvent, this);
    if (prescaler_ != 0) {
        const auto when = origin_ + static_cast<std::uint64_t>(nextTick()) * prescaler_;
        avr_cycle_timer_register(avr_, when > avr_->cycle ? when - avr_->cycle : 1, onEvent, this);
    }
    mirror();
}

avr_cycle_count_t TimerModel::onEvent(avr_t*, avr_cycle_count_t when, void* self) {
    auto* model = static_cast<TimerModel*>(self);
    model->advance(when);
    model->mirror();
    if (model->prescaler_ == 0) return 0;
    return model->origin_ + static_cast<std::uint64_t>(model->nextTick()) * model->prescaler_;
}

std::uint8_t TimerModel::onRead(avr_t* avr, avr_io_addr_t address, void* self) {
    auto* model = static_cast<TimerModel*>(self);
    model->advance(avr->cycle);
    const auto count = model->count();
    avr->data[model->timer_->r_tcnt] = static_cast<std::uint8_t>(count);
    if (model->timer_->r_tcnth != 0) avr->data[model->timer_->r_tcnth] = static_cast<std::uint8_t>(count >> 8);
    return avr->data[address];
}

void TimerModel::onWrite(avr_t* avr, avr_io_addr_t address, std::uint8_t value, void* self) {
    auto* model = static_cast<TimerModel*>(self);
    auto* timer = model->timer_;
    model->advance(avr->cycle);
    if (address == timer->overflow.raised.reg) {  // a flag is cleared by writing one to it, and only that flag
        avr_int_vector_t* const vectors[] = {&timer->overflow, &timer->icr, &timer->comp[0].interrupt, &timer->comp[1].interrupt,
                                             &timer->comp[2].interrupt};
        for (auto* vector : vectors)
            if (vector->vector != 0 && vector->raised.reg != 0 && (value >> vector->raised.bit & 1) != 0 &&
                avr_regbit_get(avr, vector->raised) != 0)
                avr_clear_interrupt(avr, vector);
        return;
    }
    avr_core_watch_write(avr, address, value);
    if (address == timer->r_tcnt) {
        model->setCount(model->reg(timer->r_tcnt, timer->r_tcnth));
        return model->schedule();
    }
    bool is_compare = false;
    for (std::size_t i = 0; i < compares; ++i)
        if (model->has(static_cast<int>(i)) && address == timer->comp[i].r_ocr) {
            model->buffered_[i] = model->reg(timer->comp[i].r_ocr, timer->comp[i].r_ocrh);
            if (!model->pwm()) model->compare_[i] = model->buffered_[i];
            is_compare = true;
        }
    if (!is_compare && address != timer->r_icr) {
        const auto count = model->count();
        const auto prescaler_before = model->prescaler_;
        const auto wave_before = model->wave_;
        model->decodeMode();
        model->prescaler_ = model->selectedPrescaler();
        if (model->prescaler_ != prescaler_before || model->wave_ != wave_before) model->setCount(count);
        for (std::size_t i = 0; i < compares; ++i) {
            const auto& compare = timer->comp[i];
            model->mode_[i] = compare.com.reg != 0 ? avr_regbit_get(avr, compare.com) : 0;
            bool on = model->mode_[i] != 0 && compare.com_pin.reg != 0;
            if (on && model->pwm() && model->mode_[i] == 1 && !(i == 0 && model->top_from_ == TopFrom::CompareA)) on = false;
            model->enabled_[i] = on;
        }
        model->connectOutputs(avr->cycle);
    }
    model->schedule();
}

}  // namespace hinge::emulator
