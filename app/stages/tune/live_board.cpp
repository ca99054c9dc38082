#include "stages/tune/live_board.hpp"
#include <fcntl.h>
#include <pty.h>
#include <termios.h>
#include <unistd.h>
#include <QElapsedTimer>
#include <array>

namespace hinge::app {

namespace {
constexpr std::size_t longest_answer = 4096;  // bytes of what comes back by radio: more than any sketch says to one line
}

LiveBoard::LiveBoard(std::unique_ptr<plant::StandIn> board, QObject* parent)
    : QThread(parent), board_(std::move(board)), what_(QString::fromStdString(board_->what())), hears_radio_(board_->hearsRadio()) {
    std::array<char, 128> name{};
    if (::openpty(&master_, &slave_, name.data(), nullptr, nullptr) == 0) {
        termios settings{};
        ::tcgetattr(slave_, &settings);
        ::cfmakeraw(&settings);
        ::tcsetattr(slave_, TCSANOW, &settings);
        ::fcntl(master_, F_SETFL, O_NONBLOCK);  // the slave stays open here: otherwise reads fail while nobody is connected
        port_ = QString::fromLocal8Bit(name.data());
    }
}

LiveBoard::~LiveBoard() {
    stop_ = true;
    wait();
    if (master_ >= 0) ::close(master_);
    if (slave_ >= 0) ::close(slave_);
}

void LiveBoard::unplug() {
    stop_ = true;
    wait();
    if (master_ >= 0) ::close(std::exchange(master_, -1));
    if (slave_ >= 0) ::close(std::exchange(slave_, -1));
}

void LiveBoard::setInput(int index, bool active) {
    const std::lock_guard lock(mutex_);
    inputs_.emplace_back(index, active);
}

void LiveBoard::setReading(int index, int reading) {
    const std::lock_guard lock(mutex_);
    readings_.emplace_back(index, reading);
}

void LiveBoard::disturb(int output, double how_much) {
    const std::lock_guard lock(mutex_);
    shoves_.emplace_back(output, how_much);
}

void LiveBoard::sayByRadio(const std::string& line) {
    const std::lock_guard lock(mutex_);
    radio_said_ += line + "\n";
    radio_answer_.clear();
}

std::string LiveBoard::radioAnswer() const {
    const std::lock_guard lock(mutex_);
    return radio_answer_;
}

plant::Observation LiveBoard::observe() const {
    const std::lock_guard lock(mutex_);
    return seen_;
}

void LiveBoard::run() {
    QElapsedTimer clock;
    clock.start();
    double played = 0.0;
    std::string out;
    while (!stop_) {
        std::array<char, 512> buffer{};
        const auto got = master_ >= 0 ? ::read(master_, buffer.data(), buffer.size()) : -1;
        if (got > 0) board_->write({buffer.data(), static_cast<std::size_t>(got)});
        std::vector<std::pair<int, bool>> inputs;
        std::vector<std::pair<int, int>> readings;
        std::vector<std::pair<int, double>> shoves;
        std::string said;
        {
            const std::lock_guard lock(mutex_);
            inputs.swap(inputs_);
            readings.swap(readings_);
            shoves.swap(shoves_);
            said.swap(radio_said_);
        }
        if (!said.empty()) board_->sayByRadio(said);
        for (const auto& [index, reading] : readings) board_->setReading(index, reading);
        for (const auto& [output, how_much] : shoves) board_->disturb(output, how_much);
        for (const auto& [index, active] : inputs) board_->setInput(index, active);
        // Real time, in steps short enough to stop at once; a stalled desk is not caught up with.
        const double now = static_cast<double>(clock.nsecsElapsed()) * 1e-9;
        const double step = std::min(0.05, now - played);
        played = now;
        board_->advance(step);
        out += board_->read();
        if (!out.empty() && master_ >= 0) {
            const auto sent = ::write(master_, out.data(), out.size());
            if (sent > 0) out.erase(0, static_cast<std::size_t>(sent));
            if (out.size() > 65536) out.clear();  // nobody listens
        }
        {
            const std::lock_guard lock(mutex_);
            seen_ = board_->observe();
            if (const auto more = board_->radioAnswers(); radio_answer_.size() < longest_answer) radio_answer_ += more;
        }
        usleep(4000);
    }
}

}  // namespace hinge::app
