// The clock, the sleep, the standard input and the PWM's files of an emitted sketch for Linux: the desk's, in place of the system's.
#include <fcntl.h>
#include <linux/i2c-dev.h>
#include <linux/i2c.h>
#include <poll.h>
#include <sys/ioctl.h>
#include <sys/syscall.h>
#include <time.h>
#include <unistd.h>
#include <cmath>
#include <cstdarg>
#include <cstdio>
#include <cstdlib>
#include <cstring>
#include <map>
#include <string>
#include "../desk.hpp"

namespace desk {
void begin(int argc, char** argv);
}
int gadget_main();  // the sketch's own, compiled under this name

namespace {

// As the kernel has them: a channel's folder is there once it was exported, its duty is never longer than its period.
const std::string files = "/sys/class/pwm/pwmchip0/";
constexpr int first_file = 5000;
std::map<int, std::string> opened;
struct Channel {
    long long period = 0, duty = 0;
    bool enabled = false;
};
std::map<int, Channel> channels;
constexpr int bits = 20;

bool put(const std::string& name, long long value) {
    if (name == "export") return channels.emplace(static_cast<int>(value), Channel{}).second;
    const int number = std::atoi(name.c_str() + 3);
    const auto at = channels.find(number);
    if (at == channels.end()) return false;
    Channel& channel = at->second;
    const std::string what = name.substr(name.find('/') + 1);
    if (what == "period" && value >= channel.duty) channel.period = value;
    else if (what == "duty_cycle" && value >= 0 && value <= channel.period) channel.duty = value;
    else if (what == "enable" && channel.period > 0 && !channel.enabled) channel.enabled = true;
    else return value == 0 && what == "duty_cycle";
    if (!channel.enabled) return true;
    const double full = std::exp2(bits);
    desk::pwmShare(number, static_cast<std::uint32_t>(std::llround(full * channel.duty / channel.period)));
    if (what != "enable") return true;
    desk::pwmSet(number, 1e9 / channel.period, bits);
    // The pins that its overlay may give it.
    constexpr int given[2][2] = {{12, 18}, {13, 19}};
    for (const int pin : given[number & 1])
        if (!desk::isOpen(pin)) desk::pwmAttach(number, pin);
    return true;
}

}  // namespace

namespace {

// The header's two-wire bus: chips at every address that keep what they are told, as bytes from a register on. What is put there goes out
// over the link as a line, "~i2c 40 0e 00 10"; a converter reads 13 333 of 32 768.
constexpr int bus_file = 4999;
std::map<int, std::map<int, unsigned char>> chips;
int pointer = 0;

void transfer(const i2c_msg& message) {
    auto& chip = chips[message.addr];
    if ((message.flags & I2C_M_RD) != 0) {
        for (int k = 0; k < message.len; ++k)
            message.buf[k] = message.addr >= 0x48 && message.addr < 0x4C && pointer == 0 ? (k == 0 ? 0x34 : 0x15) : chip[pointer + k];
        return;
    }
    pointer = message.buf[0];
    for (int k = 1; k < message.len; ++k) chip[pointer + k - 1] = message.buf[k];
    if (message.len < 2) return;
    char text[8];
    std::string line = "~i2c";
    std::snprintf(text, sizeof text, " %02x", message.addr);
    line += text;
    for (int k = 0; k < message.len; ++k) std::snprintf(text, sizeof text, " %02x", message.buf[k]), line += text;
    for (const char c : line + "\n") desk::link.send(static_cast<std::uint8_t>(c));
}

}  // namespace

extern "C" {
int ioctl(int file, unsigned long request, ...) {
    va_list more;
    va_start(more, request);
    auto* all = va_arg(more, i2c_rdwr_ioctl_data*);
    va_end(more);
    if (file != bus_file || request != I2C_RDWR) return static_cast<int>(syscall(SYS_ioctl, file, request, all));
    for (unsigned k = 0; k < all->nmsgs; ++k) transfer(all->msgs[k]);
    desk::spend(100'000ull * 6);
    return static_cast<int>(all->nmsgs);
}
int open(const char* name, int flags, ...) {
    if (std::strcmp(name, "/dev/i2c-1") == 0) return bus_file;
    if (files.compare(0, files.size(), name, std::min(files.size(), std::strlen(name))) != 0) {
        va_list more;
        va_start(more, flags);
        const int mode = (flags & O_CREAT) != 0 ? va_arg(more, int) : 0;
        va_end(more);
        return static_cast<int>(syscall(SYS_openat, AT_FDCWD, name, flags, mode));
    }
    const std::string within = name + files.size();
    if (within != "export" && channels.find(std::atoi(within.c_str() + 3)) == channels.end()) return -1;
    const int file = first_file + static_cast<int>(opened.size());
    opened[file] = within;
    return file;
}
ssize_t write(int file, const void* bytes, size_t length) {
    const auto at = opened.find(file);
    if (at == opened.end()) return syscall(SYS_write, file, bytes, length);
    return put(at->second, std::atoll(std::string(static_cast<const char*>(bytes), length).c_str())) ? static_cast<ssize_t>(length) : -1;
}
int close(int file) {
    if (opened.find(file) != opened.end()) return 0;
    return static_cast<int>(syscall(SYS_close, file));
}
int clock_gettime(clockid_t, timespec* now) {
    desk::spend(200);
    now->tv_sec = static_cast<time_t>(desk::now() / 1000000000);
    now->tv_nsec = static_cast<long>(desk::now() % 1000000000);
    return 0;
}
int usleep(useconds_t us) {
    desk::spend(1000ull * us);
    return 0;
}
int poll(pollfd* in, nfds_t, int) {
    in->revents = desk::link.incoming.empty() ? 0 : POLLIN;
    return desk::link.incoming.empty() ? 0 : 1;
}
ssize_t read(int, void* to, size_t) {
    *static_cast<unsigned char*>(to) = desk::link.incoming.front();
    desk::link.incoming.pop_front();
    return 1;
}
}

int main(int argc, char** argv) {
    desk::begin(argc, argv);
    return gadget_main();
}
