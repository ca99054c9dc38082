// A board that says too much, or speaks another version of the link.
#include <fcntl.h>
#include <termios.h>
#include <unistd.h>
#include <algorithm>
#include <array>
#include <atomic>
#include <mutex>
#include <thread>
#include "app/talking.hpp"

namespace hinge::app {
namespace {

class Flooded : public test::TalkingTest {
protected:
    [[nodiscard]] std::string hello(int version) const {
        return "hello hinge-spark " + std::to_string(version) + " 12345678 " + link::spoken(document_->model().project.brief.name) + "\n";
    }
};

// A pseudo-terminal that says the same without end, as fast as it is read, and hears what the window says.
class Flood {
public:
    Flood(std::string first, std::string again) : first_{std::move(first)}, again_{std::move(again)} {
        master_ = ::posix_openpt(O_RDWR | O_NOCTTY);
        ::grantpt(master_), ::unlockpt(master_);
        termios raw{};
        ::tcgetattr(master_, &raw), ::cfmakeraw(&raw), ::tcsetattr(master_, TCSANOW, &raw);
        ::fcntl(master_, F_SETFL, O_NONBLOCK);
        thread_ = std::thread([this] {
            std::string out = first_;
            while (!done_) {
                if (out.size() < 65536)
                    for (int k = 0; k < 200; ++k) out += again_;
                const auto n = ::write(master_, out.data(), std::min<std::size_t>(out.size(), 4096));
                if (n > 0) out.erase(0, static_cast<std::size_t>(n)), sent_ += static_cast<std::size_t>(n);
                std::array<char, 4096> in{};
                if (const auto m = ::read(master_, in.data(), in.size()); m > 0) {
                    const std::lock_guard lock(mutex_);
                    heard_.append(in.data(), static_cast<std::size_t>(m));
                } else if (n <= 0) {
                    std::this_thread::sleep_for(std::chrono::milliseconds(1));
                }
            }
        });
    }
    ~Flood() {
        done_ = true;
        thread_.join();
        ::close(master_);
    }
    [[nodiscard]] QString port() const { return QString::fromLatin1(::ptsname(master_)); }
    [[nodiscard]] std::size_t sent() const { return sent_; }
    [[nodiscard]] std::string heard() {
        const std::lock_guard lock(mutex_);
        return heard_;
    }

private:
    std::string first_, again_, heard_;
    int master_ = -1;
    std::mutex mutex_;
    std::atomic<bool> done_{false};
    std::atomic<std::size_t> sent_{0};
    std::thread thread_;
};

// Lines without end, of each kind: nothing grows without bound, the window comes round, and stop goes out.
TEST_F(Flooded, linesWithoutEndAreBornAndStopGoesOut) {
    open();
    const std::string greeting = hello(link::version);
    std::string parameters;
    for (int k = 0; k < 3000; ++k) parameters += "param number_" + std::to_string(k) + " 1 0 1000 ms\n";
    std::string inputs;
    for (int k = 0; k < 3000; ++k) inputs += "input " + std::to_string(k) + " in\n";
    for (const auto& lines : {std::string{"end\n"}, greeting, parameters, inputs}) {
        SCOPED_TRACE(lines.substr(0, 12));
        Flood flood(greeting, lines);
        session().connectTo(flood.port());
        ASSERT_TRUE(until([&] { return session().connected(); }));
        ASSERT_TRUE(until([&] { return flood.sent() > 200'000; }, 20'000));
        session().send(link::Stop{});
        EXPECT_TRUE(until([&] { return flood.heard().find("stop") != std::string::npos; }, 2000)) << "stop goes out at once";
        EXPECT_LE(session().parameters().size(), 512U);
        EXPECT_LE(session().inputs().size(), 512U);
        const auto heard = flood.heard();
        EXPECT_LT(std::count(heard.begin(), heard.end(), '\n'), 200) << "one that says hello without end is not answered each time";
        session().connectTo("");
    }
}

// Another version of the link: looked at and stopped, nothing else.
TEST_F(Flooded, anotherVersionOfTheLinkIsLeftAlone) {
    open();
    Flood board(hello(9), "\n");
    session().connectTo(board.port());
    ASSERT_TRUE(until([&] { return session().connected(); }));
    EXPECT_TRUE(session().foreign());
    EXPECT_TRUE(session().status().contains("version 9")) << session().status().toStdString();
    session().send(link::StartCue{0});
    session().send(link::Stop{});
    EXPECT_TRUE(until([&] { return board.heard().find("stop") != std::string::npos; }));
    EXPECT_EQ(board.heard().find("start"), std::string::npos) << board.heard();
}

}  // namespace
}  // namespace hinge::app
