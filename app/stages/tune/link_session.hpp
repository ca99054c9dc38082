#pragma once
#include <QElapsedTimer>
#include <QObject>
#include <QSerialPort>
#include <QTimer>
#include <atomic>
#include <future>
#include <map>
#include "capture/recording.hpp"
#include "link/protocol.hpp"
#include "shell/document.hpp"
#include "stages/tune/live_board.hpp"
#include "stages/tune/run_keeper.hpp"
#include "store/trials.hpp"

namespace hinge::app {

/// A conversation with a board over the line protocol: parameters, telemetry, the desk's hand, trials, stop. The
/// stand-in's pseudo-terminal and a real serial port are the same to it.
class LinkSession final : public QObject {
    Q_OBJECT
public:
    explicit LinkSession(Document* document, QObject* parent = nullptr);
    ~LinkSession() override;

    /// Starts the emitted sketch on the emulated board, or the interpreter where it cannot be
    /// compiled, with the gadget's machines on its bench, and connects to it.
    /// It is compiled and started beside the interface; what was connected is let go at once.
    void startStandIn();
    /// Ends a compile that runs; the stand-in is not started.
    void stopCompiling() { cancel_ = true; }
    [[nodiscard]] bool compiling() const { return building_.valid(); }
    void connectTo(const QString& port);
    void send(const link::Command& command);
    /// What goes over the wire for it: with the word that this gadget wants with it, and its line end.
    [[nodiscard]] QByteArray line(const link::Command& command) const;
    /// The parameter is sent when it is in range; otherwise the note says what is.
    void change(const QString& parameter, const QString& typed);
    /// The desk's hand on an output: said again until let go. See routine::Happening::ByHand.
    void drive(int output, int value, int ms = 1000);
    void letGo(int output);
    void letGoAll();
    [[nodiscard]] bool drives(int output) const { return hands_.count(output) != 0; }
    /// Place of a channel among the outputs; -1 when no cue drives it.
    [[nodiscard]] int outputOf(const QString& channel) const;
    /// Keeps what ran as a journal entry.
    void keepRun(const QString& channel);

    // A step of a loop, from rest to what is wanted, kept as a trial while it runs.
    /// @param open  permille that it is driven at instead of being held: for a fit; below zero: held
    void startStep(const QString& loop, double length, int open = -1);
    void stopTrial();
    /// m/s by which the stand-in's body is shoved half way through its trial, and its model by the same.
    static constexpr double shove = 0.05;
    [[nodiscard]] bool recording() const { return phase_ != Phase::Idle; }
    [[nodiscard]] const journal::Trial& trial() const { return trial_; }

    [[nodiscard]] bool isOpen() const { return port_.isOpen(); }
    [[nodiscard]] bool connected() const { return port_.isOpen() && hello_; }
    /// The sketch on the port belongs to another gadget: nothing is moved.
    [[nodiscard]] bool foreign() const { return foreign_; }
    [[nodiscard]] QString portName() const { return port_.portName(); }
    /// What it runs on and how the link does, in words.
    [[nodiscard]] QString status() const;
    [[nodiscard]] LiveBoard* board() const { return board_.get(); }
    [[nodiscard]] const std::vector<link::ParameterLine>& parameters() const { return parameters_; }
    [[nodiscard]] const std::vector<QString>& inputs() const { return inputs_; }
    [[nodiscard]] const std::vector<QString>& cues() const { return cues_; }
    /// Signals: each output's share (or place), each measured input's reading, then the movers' current.
    [[nodiscard]] const capture::Recording& telemetry() const { return telemetry_; }
    [[nodiscard]] std::size_t currentSignal() const { return telemetry_.signals() == 0 ? 0 : telemetry_.signals() - 1; }
    /// Where the reading of an input stands among the signals; nullopt when it is not measured.
    [[nodiscard]] std::optional<std::size_t> signalOf(const std::string& input) const;
    [[nodiscard]] const link::Telemetry& last() const { return last_; }
    [[nodiscard]] std::size_t misfits() const { return misfits_; }
    /// The last value the board confirmed for a parameter.
    [[nodiscard]] std::optional<int> value(const QString& parameter) const;
    /// What the last machine of an output on the stand-in's bench does.
    [[nodiscard]] std::optional<plant::Seen> machineOf(int output) const;
    /// Folder in which trials are kept: the project's, or one for what is not saved yet.
    [[nodiscard]] std::string trialFolder() const;
    /// Elsewhere instead, for pictures: what they try must not lie beside the project afterwards.
    void setTrialFolder(const std::string& folder) { trialsElsewhere_ = folder; }
    /// A seed other than 0 puts machines on the bench that are a little off their figures.
    void setVariation(std::uint64_t seed) { variation_ = seed; }
    [[nodiscard]] std::uint64_t variation() const { return variation_; }

Q_SIGNALS:
    /// The list of parameters, inputs or the connection itself has changed.
    void reshaped();
    void confirmed(const QString& parameter, int value);
    void trialEnded(const QString& id);

private:
    enum class Phase { Idle, Settling, Before, Running };
    static constexpr qint64 most_at_once = 16384;    ///< bytes that are read before the window looks up again
    static constexpr std::size_t most_listed = 512;  ///< numbers, inputs or cues of a board: more than any sketch has
    void readPort();
    void take(link::Message message);
    void follow(const link::Telemetry& telemetry);
    void beginTrial();
    void holdAll();
    void lost();
    void collect();
    void fitBoard(std::unique_ptr<plant::StandIn> stand_in);

    Document* document_;
    struct Made {
        std::unique_ptr<plant::StandIn> board;
        QString problem;
    };
    std::future<Made> building_;
    std::atomic<bool> cancel_{false};
    bool again_ = false;  ///< asked for once more while it was compiled
    QTimer poll_;
    std::unique_ptr<LiveBoard> board_;
    QSerialPort port_;
    RunKeeper runs_;  ///< of a real board
    link::Decoder decoder_;
    bool hello_ = false, foreign_ = false;
    QString note_, doing_;
    std::size_t heard_ = 0;  // samples at the last look
    std::size_t misfits_ = 0;
    int answers_ = 0;  // lines that answered a command so far
    QTimer reshape_;   ///< tells what was listed
    QElapsedTimer greeted_;
    QTimer watch_;  ///< looks whether the port is still there, and repeats what the hand says
    std::vector<link::ParameterLine> parameters_;
    std::vector<QString> inputs_, cues_;
    capture::Recording telemetry_;
    link::Telemetry last_;
    struct Hand {
        int value = 0, ms = 1000;
        bool place = false;  ///< a move: said once
    };
    std::map<int, Hand> hands_;
    std::uint64_t variation_ = 0;
    std::string trialsElsewhere_;
    // The trial that runs.
    Phase phase_ = Phase::Idle;
    journal::Trial trial_;
    std::optional<store::TrialWriter> writer_;
    int trialOutput_ = -1;
    std::size_t trialSignal_ = 0;
    double phaseFrom_ = 0.0, trialLength_ = 4.0, nextRow_ = 0.0, period_ = 0.02, wanted_ = 0.0;
    double lastPlace_ = 0.0, lastPlaceTime_ = -1.0;
    bool rolls_ = false, shoved_ = false;
    int open_ = -1;   ///< permille of an open step
    int astray_ = 0;  ///< rows in a row that are far beyond what was asked for
};

}  // namespace hinge::app
