#pragma once
#include <QString>
#include <QThread>
#include <atomic>
#include <memory>
#include <mutex>
#include "plant/stand_in.hpp"

namespace hinge::app {

/// Runs a stand-in in real time on a thread of its own, its serial line on a pseudo-terminal that
/// can be opened like any port.
class LiveBoard final : public QThread {
    Q_OBJECT
public:
    explicit LiveBoard(std::unique_ptr<plant::StandIn> board, QObject* parent = nullptr);
    ~LiveBoard() override;
    /// "/dev/pts/7"; empty when no pseudo-terminal could be had.
    [[nodiscard]] QString port() const { return port_; }
    [[nodiscard]] QString what() const { return what_; }
    void setInput(int index, bool active);
    /// What an analogue input reads, 0 to 1023, where nothing on the bench gives it.
    void setReading(int index, int reading);
    /// A shove or a brake from outside, for the machine of an output.
    void disturb(int output, double how_much);
    [[nodiscard]] plant::Observation observe() const;
    /// Whether a radio on a line of its own stands beside it.
    [[nodiscard]] bool hearsRadio() const { return hears_radio_; }
    /// A line that its radio hands to the board.
    void sayByRadio(const std::string& line);
    /// What the board answered to the last one so far.
    [[nodiscard]] std::string radioAnswer() const;
    /// Pulls the plug: the port goes away while the line is in use.
    void unplug();

protected:
    void run() override;

private:
    std::unique_ptr<plant::StandIn> board_;
    QString port_, what_;
    int master_ = -1, slave_ = -1;
    std::atomic<bool> stop_{false};
    mutable std::mutex mutex_;
    std::vector<std::pair<int, bool>> inputs_;
    std::vector<std::pair<int, int>> readings_;
    std::vector<std::pair<int, double>> shoves_;
    const bool hears_radio_;
    std::string radio_said_, radio_answer_;
    plant::Observation seen_;
};

}  // namespace hinge::app
