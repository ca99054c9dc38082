#pragma once
// A stand-in for a board's boot loader: it answers the programmer's protocol on a pseudo-terminal and keeps what is written.
#include <fcntl.h>
#include <poll.h>
#include <termios.h>
#include <unistd.h>
#include <array>
#include <atomic>
#include <cstdint>
#include <cstdlib>
#include <string>
#include <thread>
#include <vector>

namespace hinge::test {

/// STK500 version 1, as its public description has it: a command byte, its arguments, 0x20; answered by 0x14 … 0x10.
class Programmer {
public:
    explicit Programmer(std::array<std::uint8_t, 3> signature) : signature_{signature} {
        master_ = ::posix_openpt(O_RDWR | O_NOCTTY);
        ::grantpt(master_);
        ::unlockpt(master_);
        port_ = ::ptsname(master_);
        // Held open, so that the line does not hang up between two programs.
        slave_ = ::open(port_.c_str(), O_RDWR | O_NOCTTY);
        termios raw{};
        ::tcgetattr(slave_, &raw);
        ::cfmakeraw(&raw);
        ::tcsetattr(slave_, TCSANOW, &raw);
        thread_ = std::thread([this] { serve(); });
    }
    ~Programmer() {
        stop_ = true;
        thread_.join();
        ::close(slave_);
        ::close(master_);
    }
    Programmer(const Programmer&) = delete;
    Programmer& operator=(const Programmer&) = delete;
    [[nodiscard]] const std::string& port() const { return port_; }
    [[nodiscard]] const std::vector<std::uint8_t>& flash() const { return flash_; }

private:
    bool take(std::uint8_t& byte) {
        while (!stop_) {
            pollfd ready{master_, POLLIN, 0};
            if (::poll(&ready, 1, 20) > 0 && ::read(master_, &byte, 1) == 1) return true;
        }
        return false;
    }
    std::vector<std::uint8_t> take(std::size_t count) {
        std::vector<std::uint8_t> bytes(count);
        for (auto& byte : bytes)
            if (!take(byte)) break;
        return bytes;
    }
    void answer(const std::vector<std::uint8_t>& data) {
        std::vector<std::uint8_t> bytes{0x14};
        bytes.insert(bytes.end(), data.begin(), data.end());
        bytes.push_back(0x10);
        (void)!::write(master_, bytes.data(), bytes.size());
    }
    void serve() {
        std::uint8_t command = 0;
        while (take(command)) {
            switch (command) {
                case 0x30:
                    take(1);
                    answer({});
                    break;  // in step
                case 0x41: {
                    const auto what = take(2);
                    answer({static_cast<std::uint8_t>(what[0] == 0x81 ? 4 : what[0] == 0x82 ? 4 : 3)});
                    break;
                }
                case 0x42:
                    take(21);
                    answer({});
                    break;  // about the chip
                case 0x45:
                    take(6);
                    answer({});
                    break;
                case 0x50:
                case 0x51:
                    take(1);
                    answer({});
                    break;  // programming on, off
                case 0x55: {
                    const auto at = take(3);
                    address_ = 2u * (at[0] | static_cast<std::size_t>(at[1]) << 8);
                    answer({});
                    break;
                }
                case 0x56: {
                    const auto bytes = take(5);
                    answer({bytes[0] == 0x30 && bytes[2] < 3 ? signature_[bytes[2]] : std::uint8_t{0}});
                    break;
                }
                case 0x64: {  // a page
                    const auto head = take(3);
                    const std::size_t size = static_cast<std::size_t>(head[0]) << 8 | head[1];
                    const auto data = take(size + 1);
                    if (flash_.size() < address_ + size) flash_.resize(address_ + size, 0xff);
                    std::copy(data.begin(), data.end() - 1, flash_.begin() + static_cast<std::ptrdiff_t>(address_));
                    answer({});
                    break;
                }
                case 0x74: {
                    const auto head = take(4);
                    const std::size_t size = static_cast<std::size_t>(head[0]) << 8 | head[1];
                    std::vector<std::uint8_t> data(size, 0xff);
                    for (std::size_t i = 0; i < size && address_ + i < flash_.size(); ++i) data[i] = flash_[address_ + i];
                    answer(data);
                    break;
                }
                case 0x75:
                    take(1);
                    answer({signature_[0], signature_[1], signature_[2]});
                    break;
                default: break;
            }
        }
    }

    std::array<std::uint8_t, 3> signature_;
    int master_ = -1, slave_ = -1;
    std::string port_;
    std::vector<std::uint8_t> flash_;
    std::size_t address_ = 0;
    std::atomic<bool> stop_{false};
    std::thread thread_;
};

}  // namespace hinge::test
