#pragma once
#include "link/protocol.hpp"
#include "shell/document.hpp"
#include "stages/tune/live_board.hpp"
#include <QObject>
#include <array>
#include <QSerialPort>
#include <QTimer>

namespace hinge::app {

/// A conversation with a board over the line protocol: parameters, telemetry, stop. The stand-in's
/// pseudo-terminal and a real serial port are the same to it.
class LinkSession final : public QObject {
    Q_OBJECT
public:
    /// One moment of telemetry.
    struct Sample {
        double time = 0.0;       ///< s of the board's own time
        std::array<float, 16> shares{};   ///< per output: of full power, or of the way of its move
        double current = 0.0;    ///< A of all movers, by the plants; 0 on a real board
    };

    explicit LinkSession(Document* document, QObject* parent = nullptr);
    ~LinkSession() override;

    /// Starts the emitted sketch on the emulated board, or the interpreter where it cannot be
    /// compiled, and connects to it.
    void startStandIn();
    void connectTo(const QString& port);
    void send(const link::Command& command);
    /// The parameter is sent when it is in range; otherwise the note says what is.
    void change(const QString& parameter, const QString& typed);
    /// Keeps what ran as a journal entry. @return the note's words
    /// Place of a channel among the outputs; -1 when no cue drives it.
    [[nodiscard]] int outputOf(const QString& channel) const;
    void keepRun(const QString& channel);

    [[nodiscard]] bool isOpen() const { return port_.isOpen(); }
    [[nodiscard]] bool connected() const { return port_.isOpen() && hello_; }
    [[nodiscard]] QString portName() const { return port_.portName(); }
    /// What it runs on and how the link does, in words.
    [[nodiscard]] QString status() const;
    [[nodiscard]] LiveBoard* board() const { return board_.get(); }
    [[nodiscard]] const std::vector<link::ParameterLine>& parameters() const { return parameters_; }
    [[nodiscard]] const std::vector<QString>& inputs() const { return inputs_; }
    [[nodiscard]] const std::vector<QString>& cues() const { return cues_; }
    [[nodiscard]] const std::vector<Sample>& telemetry() const { return telemetry_; }
    [[nodiscard]] const link::Telemetry& last() const { return last_; }
    /// The last value the board confirmed for a parameter.
    [[nodiscard]] std::optional<int> value(const QString& parameter) const;

Q_SIGNALS:
    /// The list of parameters, inputs or the connection itself has changed.
    void reshaped();
    void confirmed(const QString& parameter, int value);

private:
    void readPort();
    void take(link::Message message);
    void lost();

    Document* document_;
    std::unique_ptr<LiveBoard> board_;
    QSerialPort port_;
    link::Decoder decoder_;
    bool hello_ = false;
    QString note_, doing_;
    std::size_t heard_ = 0;  // samples at the last look
    int answers_ = 0;  // lines that answered a command so far
    QTimer watch_;   ///< looks whether the port is still there
    std::vector<link::ParameterLine> parameters_;
    std::vector<QString> inputs_, cues_;
    std::vector<Sample> telemetry_;
    link::Telemetry last_;
};

}  // namespace hinge::app
