#include "emulator/guest.hpp"
#include <fcntl.h>
#include <fmt/format.h>
#include <poll.h>
#include <seccomp.h>
#include <sys/prctl.h>
#include <sys/resource.h>
#include <sys/socket.h>
#include <sys/wait.h>
#include <unistd.h>
#include <array>
#include <cerrno>
#include <chrono>
#include <csignal>
#include <cstdio>
#include "emulator/guest_order.hpp"
#include "emulator/own_firmware.hpp"
#include "emulator/packing.hpp"
#include "emulator/pin_bus.hpp"
#include "emulator/run_program.hpp"
#include "files/folder.hpp"

#ifndef HINGE_GUEST_BUILT
#define HINGE_GUEST_BUILT ""
#endif
#ifndef HINGE_GUEST_INSTALLED
#define HINGE_GUEST_INSTALLED ""
#endif

namespace hinge::emulator {
namespace {

enum class Request : std::uint8_t { Start, Advance, Write, Input, Reading, Rate, Power, Finish };
enum class Reply : std::uint8_t { Done, Refused, Full };

constexpr std::size_t most_edges = 4'000'000;
constexpr std::uint32_t largest_message = 256u << 20;
constexpr double seconds_to_answer = 120.0;       // for a quarter of a second of its time
constexpr rlim_t memory_of_a_guest = 1ull << 30;  // bytes of addresses, edges included

// ---- What goes over, each described once ----------------------------------------------------------------------------------------------

template <class Archive>
void exchange(Archive& a, plant::FirmwareSeen& seen) {
    for (auto* edges : {&seen.edges, &seen.latchings})
        a.list(*edges, [](Archive& list, auto& each) {
            auto& edge = const_cast<plant::Edge&>(each);
            list(edge.time), list(edge.output), list(edge.input), list(edge.level);
        });
    a(seen.length), a(seen.cut), a(seen.loop_known), a(seen.loops), a(seen.longest_loop), a(seen.longest_at), a(seen.mean_loop);
    a(seen.interrupt_share), a(seen.longest_interrupt), a(seen.resets), a(seen.ticks_due), a(seen.ticks_served);
    for (auto* list : {&seen.on_at_start, &seen.never_output}) a.list(*list, [](Archive& to, auto& each) { to(const_cast<int&>(each)); });
}

// ---- Messages: four bytes of length, then what it is and its values ---------------------------------------------------------------------

bool sendAll(int to, std::string_view bytes) {
    while (!bytes.empty()) {
        // A guest that is gone is an error here, not a signal.
        auto n = ::send(to, bytes.data(), bytes.size(), MSG_NOSIGNAL);
        if (n < 0 && errno == ENOTSOCK) n = ::write(to, bytes.data(), bytes.size());
        if (n < 0 && errno == EINTR) continue;
        if (n <= 0) return false;
        bytes.remove_prefix(static_cast<std::size_t>(n));
    }
    return true;
}
bool sendMessage(int to, std::string_view body) {
    const auto size = static_cast<std::uint32_t>(body.size());
    return sendAll(to, {reinterpret_cast<const char*>(&size), sizeof size}) && sendAll(to, body);
}
enum class Came { Whole, Ended, Late };
Came receiveSome(int from, char* to, std::size_t count, std::chrono::steady_clock::time_point end) {
    while (count > 0) {
        const auto left = std::chrono::duration_cast<std::chrono::milliseconds>(end - std::chrono::steady_clock::now()).count();
        pollfd ready{from, POLLIN, 0};
        const int came = left > 0 ? ::poll(&ready, 1, static_cast<int>(std::min<long long>(left, 1000))) : 0;
        if (came == 0 && left <= 0) return Came::Late;
        if (came <= 0) continue;
        const auto n = ::read(from, to, count);
        if (n < 0 && errno == EINTR) continue;
        if (n <= 0) return Came::Ended;
        to += n;
        count -= static_cast<std::size_t>(n);
    }
    return Came::Whole;
}
Came receiveMessage(int from, std::string& body, double seconds) {
    const auto end =
        std::chrono::steady_clock::now() + std::chrono::duration_cast<std::chrono::milliseconds>(std::chrono::duration<double>(seconds));
    std::uint32_t size = 0;
    if (const auto came = receiveSome(from, reinterpret_cast<char*>(&size), sizeof size, end); came != Came::Whole) return came;
    if (size > largest_message) return Came::Ended;
    body.resize(size);
    return receiveSome(from, body.data(), size, end);
}

// ---- The guest's side -----------------------------------------------------------------------------------------------------------------

// From here on this process can compute, ask for memory, and speak over the streams that it has.
bool closeDoors() {
    for (const auto& [what, most] : {std::pair{RLIMIT_CORE, rlim_t{0}}, {RLIMIT_FSIZE, rlim_t{0}}, {RLIMIT_NPROC, rlim_t{0}}}) {
        const rlimit limit{most, most};
        if (::setrlimit(what, &limit) != 0) return false;
    }
#if !defined(__SANITIZE_ADDRESS__)
    const rlimit memory{memory_of_a_guest, memory_of_a_guest};
    if (::setrlimit(RLIMIT_AS, &memory) != 0) return false;
    scmp_filter_ctx filter = ::seccomp_init(SCMP_ACT_KILL_PROCESS);
    if (filter == nullptr) return false;
    bool all = true;
    for (const int call : {SCMP_SYS(read),         SCMP_SYS(write),
                           SCMP_SYS(writev),       SCMP_SYS(sendto),
                           SCMP_SYS(poll),         SCMP_SYS(brk),
                           SCMP_SYS(mmap),         SCMP_SYS(munmap),
                           SCMP_SYS(mremap),       SCMP_SYS(madvise),
                           SCMP_SYS(mprotect),     SCMP_SYS(futex),
                           SCMP_SYS(exit_group),   SCMP_SYS(exit),
                           SCMP_SYS(rt_sigreturn), SCMP_SYS(rt_sigprocmask),
                           SCMP_SYS(getpid),       SCMP_SYS(gettid),
                           SCMP_SYS(tgkill),       SCMP_SYS(clock_gettime),
                           SCMP_SYS(getrandom),    SCMP_SYS(restart_syscall),
                           SCMP_SYS(newfstatat),   SCMP_SYS(fstat)})
        all = all && ::seccomp_rule_add(filter, SCMP_ACT_ALLOW, call, 0) == 0;
    all = all && ::seccomp_load(filter) == 0;
    ::seccomp_release(filter);
    return all;
#else
    return true;  // a sanitizer's own calls would be refused
#endif
}

struct Loops {
    std::uint64_t last = 0, longest = 0, longest_at = 0, first = 0, count = 0;
};

plant::FirmwareSeen seenOf(EmulatedBoard& board, const Wiring& wiring, const Loops& seen_loops, bool marked) {
    auto& chip = board.chip();
    auto loops = seen_loops;
    // A loop that never came back counts up to the end.
    if (loops.count > 0 && chip.cycle() - loops.last > loops.longest)
        loops.longest = chip.cycle() - loops.last, loops.longest_at = loops.last;
    const double clock = chip.clock();
    plant::FirmwareSeen seen;
    seen.edges = board.edges();
    seen.latchings = board.latchings();
    seen.length = static_cast<double>(chip.cycle()) / clock;
    seen.loop_known = marked;
    seen.loops = loops.count;
    seen.longest_loop = static_cast<double>(loops.longest) / clock;
    seen.longest_at = static_cast<double>(loops.longest_at) / clock;
    seen.mean_loop = loops.count > 1 ? static_cast<double>(loops.last - loops.first) / clock / static_cast<double>(loops.count - 1) : 0.0;
    seen.interrupt_share = chip.cycle() > 0 ? static_cast<double>(chip.interruptCycles()) / static_cast<double>(chip.cycle()) : 0.0;
    seen.longest_interrupt = static_cast<double>(chip.longestInterrupt()) / clock;
    seen.resets = chip.resets();
    seen.ticks_due = chip.clockTicksDue();
    seen.ticks_served = chip.clockTicksServed();
    for (std::size_t o = 0; o < wiring.outputs.size(); ++o) {
        for (const auto& edge : seen.edges)
            if (edge.output == static_cast<int>(o) && edge.level == 1 && edge.time < 0.1) {
                seen.on_at_start.push_back(static_cast<int>(o));
                break;
            }
        if (!chip.pins().isOutput(wiring.outputs[o].port, wiring.outputs[o].bit)) seen.never_output.push_back(static_cast<int>(o));
    }
    return seen;
}

bool answer(int out, Reply reply, const std::string& more = {}) {
    return sendMessage(out, std::string(1, static_cast<char>(reply)) + more);
}
bool refuse(int out, const Error& error) {
    Packer packer;
    packer(error.code), packer(error.field), packer(error.value), packer(error.accepted);
    return answer(out, Reply::Refused, packer.bytes);
}

// Plays one request to the board; false where its arguments are no such.
bool play(EmulatedBoard& board, Request request, std::string_view rest) {
    Unpacker given(rest);
    int index = 0, reading = 0;
    bool active = false;
    double number = 0.0;
    std::string bytes;
    switch (request) {
        case Request::Advance:
            given(number);
            if (!given.good || !(number >= 0.0 && number <= 1.0)) return false;
            board.advance(number);
            return true;
        case Request::Write: given(bytes), board.write(bytes); return given.good;
        case Request::Input: given(index), given(active), board.setInput(index, active); return given.good;
        case Request::Reading: given(index), given(reading), board.setReading(index, reading); return given.good;
        case Request::Rate: given(index), given(number), board.setRate(index, number); return given.good;
        case Request::Power: board.cutPower(); return true;
        default: return false;
    }
}

}  // namespace

int serveGuest(int in, int stream) {
    constexpr double for_ever = 86'400.0;
    // The library prints now and then: not into our answers, and without asking the system what its output is.
    static std::array<char, 4096> printed{};
    std::setvbuf(stdout, printed.data(), _IOFBF, printed.size());
    const int out = ::fcntl(stream, F_DUPFD_CLOEXEC, 3), nowhere = ::open("/dev/null", O_WRONLY | O_CLOEXEC);
    if (out < 0 || nowhere < 0 || ::dup2(nowhere, STDOUT_FILENO) < 0) return 1;
    ::prctl(PR_SET_PDEATHSIG, SIGKILL);  // nobody plays on when the program is gone
    std::string message;
    if (receiveMessage(in, message, for_ever) != Came::Whole || message.empty()) return 1;
    if (!closeDoors()) {
        (void)refuse(out, {ErrorCode::Failed, "the emulator", "it cannot be shut in on this system", "a Linux kernel with seccomp"});
        return 1;
    }
    FlatOrder order;
    Unpacker unpacker(std::string_view{message}.substr(1));
    exchange(unpacker, order);
    if (static_cast<Request>(message.front()) != Request::Start || !unpacker.good) return 1;
    const auto& family = board::family(order.form);
    auto chip = Chip::loadBytes(order.bytes, order.name, nameOf(family.mcu), static_cast<std::uint32_t>(family.clock));
    if (!chip) return refuse(out, chip.error()) ? 0 : 1;
    const auto wiring = wiringOf(order);
    const auto board = EmulatedBoard::with(std::move(*chip), wiring, order.plants);
    Loops loops;
    board->chip().on_mark = [&](std::uint64_t cycle) {
        if (loops.count++ == 0) loops.first = cycle;
        else if (cycle - loops.last > loops.longest) loops.longest = cycle - loops.last, loops.longest_at = loops.last;
        loops.last = cycle;
    };
    if (!answer(out, Reply::Done)) return 1;
    bool full = false;
    while (receiveMessage(in, message, for_ever) == Came::Whole && !message.empty()) {
        const auto request = static_cast<Request>(message.front());
        if (request == Request::Finish) {
            auto seen = seenOf(*board, wiring, loops, order.marked);
            seen.cut = full;
            Packer packer;
            exchange(packer, seen);
            return answer(out, Reply::Done, packer.bytes) ? 0 : 1;
        }
        if (!full && !play(*board, request, std::string_view{message}.substr(1))) return 1;
        (void)board->chip().received();
        full = full || board->edges().size() > most_edges;
        if (!answer(out, full ? Reply::Full : Reply::Done)) return 1;
    }
    return 0;
}

std::string guestProgram() {
    std::error_code error;
    namespace fs = std::filesystem;
    const auto own = fs::read_symlink("/proc/self/exe", error).parent_path();
    for (const auto& place : {own / "hinge-spark-guest", fs::path{HINGE_GUEST_INSTALLED}, fs::path{HINGE_GUEST_BUILT}})
        if (!place.empty() && fs::is_regular_file(place, error)) return place.string();
    return {};
}

// ---- The host's side --------------------------------------------------------------------------------------------------------------------

Result<std::unique_ptr<Guest>> Guest::start(const GuestOrder& order) {
    const auto program = guestProgram();
    if (program.empty())
        return fail(ErrorCode::NotFound, "hinge-spark-guest", "", "the helper program that comes with this one: install it anew");
    std::array<int, 2> there{}, back{};
    if (::socketpair(AF_UNIX, SOCK_STREAM | SOCK_CLOEXEC, 0, there.data()) != 0)
        return fail(ErrorCode::Failed, "hinge-spark-guest", "no more files can be opened", "close some programs");
    if (::socketpair(AF_UNIX, SOCK_STREAM | SOCK_CLOEXEC, 0, back.data()) != 0) {
        ::close(there[0]), ::close(there[1]);
        return fail(ErrorCode::Failed, "hinge-spark-guest", "no more files can be opened", "close some programs");
    }
    std::unique_ptr<Guest> guest{new Guest};
    guest->name_ = order.name;
    guest->to_ = there[0];
    guest->from_ = back[0];
    guest->process_ = startProgram({program}, {there[1], back[1], -1});
    ::close(there[1]), ::close(back[1]);
    if (guest->process_ == 0) return fail(ErrorCode::Failed, program, "it cannot be started", "install it anew");
    auto flat_order = flat(order);
    Packer packer;
    packer(Request::Start);
    exchange(packer, flat_order);
    if (!guest->ask(packer.bytes)) return tl::unexpected(*guest->trouble_);
    return guest;
}

Guest::~Guest() {
    if (process_ != 0) (void)endProgram(process_);
    if (to_ >= 0) ::close(to_);
    if (from_ >= 0) ::close(from_);
}

void Guest::broke(const std::string& how) {
    trouble_ = Error{ErrorCode::Failed, name_, fmt::format("{}, after {:.2f} s of its time", how, time_),
                     "this is no firmware for this chip, or it is damaged; nothing outside the emulator was touched"};
}

bool Guest::ask(const std::string& request) {
    if (trouble_) return false;
    auto came = sendMessage(to_, request) ? receiveMessage(from_, answer_, seconds_to_answer) : Came::Ended;
    if (came == Came::Whole && answer_.empty()) came = Came::Ended;
    if (came == Came::Whole && static_cast<Reply>(answer_.front()) == Reply::Refused) {
        Error error;
        Unpacker given(std::string_view{answer_}.substr(1));
        given(error.code), given(error.field), given(error.value), given(error.accepted);
        trouble_ = error;
        return false;
    }
    if (came == Came::Whole) return true;
    if (came == Came::Late) {
        broke("it kept the emulator busy without end");
        return false;
    }
    // It is gone: how, its exit status says.
    const int status = endProgram(process_);
    process_ = 0;
    const int signal = WIFSIGNALED(status) ? WTERMSIG(status) : 0;
    broke(signal == SIGSYS    ? "it made the emulator reach out of its process, and was ended"
          : signal == SIGABRT ? "the emulator gave up, or ran out of the memory that it may take"
          : signal != 0       ? "it made the emulator break down"
                              : "the emulator ended");
    return false;
}

namespace {

template <class... Values>
std::string request(Request what, const Values&... values) {
    Packer packer;
    packer(what);
    (packer(values), ...);
    return packer.bytes;
}

}  // namespace

void Guest::advance(double seconds) {
    for (double done = 0.0; done < seconds && !trouble_; done += 0.25)
        if (ask(request(Request::Advance, std::min(0.25, seconds - done)))) time_ += std::min(0.25, seconds - done);
}
void Guest::write(std::string_view bytes) {
    (void)ask(request(Request::Write, std::string{bytes}));
}
void Guest::setInput(int index, bool active) {
    (void)ask(request(Request::Input, index, active));
}
void Guest::setReading(int index, int reading) {
    (void)ask(request(Request::Reading, index, reading));
}
void Guest::setRate(int index, double rate) {
    (void)ask(request(Request::Rate, index, rate));
}
void Guest::cutPower() {
    (void)ask(request(Request::Power));
}

Result<plant::FirmwareSeen> Guest::finish() {
    plant::FirmwareSeen seen;
    if (ask(request(Request::Finish))) {
        Unpacker unpacker(std::string_view{answer_}.substr(1));
        exchange(unpacker, seen);
        if (!unpacker.good) broke("the emulator's answer was cut short");
    }
    if (trouble_) return tl::unexpected(*trouble_);
    return seen;
}

}  // namespace hinge::emulator
