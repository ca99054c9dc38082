#pragma once
// Values as bytes between two processes of the same program on the same machine. One description writes and reads.
#include <cstring>
#include <optional>
#include <string>
#include <string_view>
#include <type_traits>
#include <vector>

namespace hinge::emulator {

class Packer {
public:
    template <class T>
    void operator()(const T& value) {
        if constexpr (std::is_same_v<T, std::string>) {
            (*this)(value.size());
            bytes += value;
        } else {
            static_assert(std::is_arithmetic_v<T> || std::is_enum_v<T>);
            bytes.append(reinterpret_cast<const char*>(&value), sizeof value);
        }
    }
    template <class T, class Each>
    void list(const std::vector<T>& values, Each each) {
        (*this)(values.size());
        for (const auto& value : values) each(*this, value);
    }
    std::string bytes;
};

/// Reads what a Packer wrote; what is cut or too long is not believed: `good` turns false, and the values stay as they were.
class Unpacker {
public:
    explicit Unpacker(std::string_view bytes) : left_{bytes} {}
    template <class T>
    void operator()(T& value) {
        if constexpr (std::is_same_v<T, std::string>) {
            std::size_t size = 0;
            (*this)(size);
            if (size > left_.size()) good = false;
            if (!good) return;
            value = std::string{left_.substr(0, size)};
            left_.remove_prefix(size);
        } else {
            static_assert(std::is_arithmetic_v<T> || std::is_enum_v<T>);
            if (left_.size() < sizeof value) good = false;
            if (!good) return;
            std::memcpy(&value, left_.data(), sizeof value);
            left_.remove_prefix(sizeof value);
        }
    }
    template <class T, class Each>
    void list(std::vector<T>& values, Each each) {
        std::size_t size = 0;
        (*this)(size);
        if (size > left_.size()) good = false;  // every value takes a byte at least
        values.clear();
        for (std::size_t i = 0; good && i < size; ++i) {
            T value{};
            each(*this, value);
            values.push_back(std::move(value));
        }
    }
    bool good = true;

private:
    std::string_view left_;
};

}  // namespace hinge::emulator
