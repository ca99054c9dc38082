// The clock, the sleep, the standard input and the PWM's files of an emitted sketch for Linux: the desk's, in place of the system's.
#include <fcntl.h>
#include <poll.h>
#include <sys/syscall.h>
#include <time.h>
#include <unistd.h>
#include <cmath>
#include <cstdarg>
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

extern "C" {
int open(const char* name, int flags, ...) {
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
    in->revents = desk::incoming.empty() ? 0 : POLLIN;
    return desk::incoming.empty() ? 0 : 1;
}
ssize_t read(int, void* to, size_t) {
    *static_cast<unsigned char*>(to) = desk::incoming.front();
    desk::incoming.pop_front();
    return 1;
}
}

int main(int argc, char** argv) {
    desk::begin(argc, argv);
    return gadget_main();
}
