#pragma once
// All that changes while a program runs: the runtime's own structs (spark_state.h) in one block of memory, so that copying and comparing a
// state is copying and comparing its bytes.
#include <cstddef>
#include <cstdint>
#include <vector>
#include "firmware/runtime/spark_state.h"

namespace hinge::routine {

class State {
public:
    struct Sizes {
        std::size_t inputs = 0, outputs = 0, cues = 0, holders = 0, times = 0, numbers = 0;
        friend bool operator==(const Sizes&, const Sizes&) = default;
    };
    State() = default;
    explicit State(const Sizes& sizes);

    /// What is not of one input, output or cue.
    [[nodiscard]] spark::WholeState* operator->() { return at<spark::WholeState>(0); }
    [[nodiscard]] const spark::WholeState* operator->() const { return at<spark::WholeState>(0); }
    [[nodiscard]] spark::InputState& input(std::size_t i) { return at<spark::InputState>(inputs_)[i]; }
    [[nodiscard]] const spark::InputState& input(std::size_t i) const { return at<spark::InputState>(inputs_)[i]; }
    [[nodiscard]] spark::OutputState& output(std::size_t o) { return at<spark::OutputState>(outputs_)[o]; }
    [[nodiscard]] const spark::OutputState& output(std::size_t o) const { return at<spark::OutputState>(outputs_)[o]; }
    [[nodiscard]] spark::CueState& cue(std::size_t c) { return at<spark::CueState>(cues_)[c]; }
    [[nodiscard]] const spark::CueState& cue(std::size_t c) const { return at<spark::CueState>(cues_)[c]; }
    /// Of a loop.
    [[nodiscard]] spark::HolderState& holder(std::size_t l) { return at<spark::HolderState>(holders_)[l]; }
    [[nodiscard]] const spark::HolderState& holder(std::size_t l) const { return at<spark::HolderState>(holders_)[l]; }
    /// Per time of day, cue by cue: the tick before which it does not come again.
    [[nodiscard]] std::uint32_t& hush(std::size_t t) { return at<std::uint32_t>(times_)[t]; }
    [[nodiscard]] std::uint32_t hush(std::size_t t) const { return at<std::uint32_t>(times_)[t]; }
    /// Live value of a parameter; changed while it runs by setNumber().
    [[nodiscard]] std::int32_t& number(std::ptrdiff_t p) { return at<std::int32_t>(numbers_)[p]; }
    [[nodiscard]] std::int32_t number(std::ptrdiff_t p) const { return at<std::int32_t>(numbers_)[p]; }

    [[nodiscard]] const Sizes& sizes() const { return sizes_; }
    [[nodiscard]] std::size_t inputs() const { return sizes_.inputs; }
    [[nodiscard]] std::size_t outputs() const { return sizes_.outputs; }
    [[nodiscard]] std::size_t cues() const { return sizes_.cues; }
    friend bool operator==(const State&, const State&) = default;

private:
    template <class T>
    [[nodiscard]] T* at(std::size_t offset) {
        return reinterpret_cast<T*>(block_.data() + offset);
    }
    template <class T>
    [[nodiscard]] const T* at(std::size_t offset) const {
        return reinterpret_cast<const T*>(block_.data() + offset);
    }
    Sizes sizes_;
    std::size_t inputs_ = 0, outputs_ = 0, cues_ = 0, holders_ = 0, times_ = 0, numbers_ = 0;  // where each begins
    std::vector<std::byte> block_;
};

}  // namespace hinge::routine
