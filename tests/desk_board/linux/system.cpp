// The clock, the sleep and the standard input of an emitted sketch for Linux: the desk's, in place of the system's.
#include <poll.h>
#include <time.h>
#include <unistd.h>
#include "../desk.hpp"

namespace desk {
void begin(int argc, char** argv);
}
int gadget_main();  // the sketch's own, compiled under this name

extern "C" {
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
