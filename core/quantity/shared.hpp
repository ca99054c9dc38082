#pragma once
#include <memory>
#include <utility>

namespace hinge {

/// A value that its copies share until one of them is changed; it may be empty.
template <class T>
class Shared {
public:
    Shared() = default;
    Shared(T value) : held_{std::make_shared<const T>(std::move(value))} {}
    [[nodiscard]] explicit operator bool() const { return held_ != nullptr; }
    [[nodiscard]] const T& operator*() const { return *held_; }
    [[nodiscard]] const T* operator->() const { return held_.get(); }
    operator const T&() const { return *held_; }                ///< to be used only when it is not empty
    [[nodiscard]] const T* get() const { return held_.get(); }  ///< nullptr: empty
    /// Changes this copy alone. To be called only when it is not empty.
    template <class Change>
    void change(Change&& change) {
        T own = *held_;
        std::forward<Change>(change)(own);
        held_ = std::make_shared<const T>(std::move(own));
    }

private:
    std::shared_ptr<const T> held_;
};

}  // namespace hinge
