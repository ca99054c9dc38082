#include "routine/zone.hpp"
#include <algorithm>

namespace hinge::routine {

void Zone::add(std::int32_t ticks) {
    const std::size_t size = size_ + 1;
    std::vector<std::int32_t> bounds(size * size);
    for (std::size_t i = 0; i < size_; ++i) {
        for (std::size_t j = 0; j < size_; ++j) bounds[i * size + j] = at(i, j);
        bounds[i * size + size_] = at(i, 0) - ticks;
        bounds[size_ * size + i] = ticks + at(0, i);
    }
    bounds[size_ * size + size_] = 0;
    bounds_ = std::move(bounds);
    size_ = size;
}

void Zone::keep(const std::vector<std::size_t>& kept) {
    const std::size_t size = kept.size() + 1;
    std::vector<std::int32_t> bounds(size * size);
    const auto old = [&](std::size_t i) { return i == 0 ? 0 : kept[i - 1] + 1; };
    for (std::size_t i = 0; i < size; ++i)
        for (std::size_t j = 0; j < size; ++j) bounds[i * size + j] = at(old(i), old(j));
    bounds_ = std::move(bounds);
    size_ = size;
}

void Zone::pass() {
    for (std::size_t i = 1; i < size_; ++i) at(0, i) = -1;
    // Closed again: only the lower bounds have changed, and they follow from differences.
    for (std::size_t k = 1; k < size_; ++k)
        for (std::size_t i = 1; i < size_; ++i) at(0, i) = std::min(at(0, i), at(0, k) + at(k, i));
}

bool Zone::tighten(std::size_t i, std::size_t j, std::int32_t bound) {
    if (at(j, i) + bound < 0) return false;
    if (bound >= at(i, j)) return true;
    at(i, j) = bound;
    for (std::size_t a = 0; a < size_; ++a)
        for (std::size_t b = 0; b < size_; ++b) at(a, b) = std::min(at(a, b), at(a, i) + bound + at(j, b));
    return true;
}

bool Zone::ends(std::size_t t) {
    return tighten(t + 1, 0, 1) && tighten(0, t + 1, -1);
}
bool Zone::goesOn(std::size_t t) {
    return tighten(0, t + 1, -2);
}

void Zone::tick() {
    for (std::size_t i = 1; i < size_; ++i) {
        at(i, 0) -= 1;
        at(0, i) += 1;
    }
}

bool Zone::includes(const Zone& other) const {
    if (size_ != other.size_) return false;
    for (std::size_t i = 0; i < bounds_.size(); ++i)
        if (other.bounds_[i] > bounds_[i]) return false;
    return true;
}

}  // namespace hinge::routine
