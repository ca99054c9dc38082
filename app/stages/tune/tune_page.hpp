#pragma once
#include "link/protocol.hpp"
#include "shell/document.hpp"
#include "stages/tune/live_board.hpp"
#include <QSerialPort>
#include <QTimer>
#include <QWidget>

class QLabel;
class QLineEdit;
class QPushButton;
class QVBoxLayout;

namespace hinge::app {

/// Live over the line protocol: parameters, telemetry, stop. The stand-in's pseudo-terminal and a
/// real serial port are the same to it.
class TunePage final : public QWidget {
    Q_OBJECT
public:
    explicit TunePage(Document* document, QWidget* parent = nullptr);
    ~TunePage() override;
    void present(const QString& channel);
    void startStandIn();
    void connectTo(const QString& port);
    void stopEverything();
    [[nodiscard]] bool connected() const { return port_.isOpen() && hello_; }
    [[nodiscard]] QString status() const;
    [[nodiscard]] LiveBoard* board() { return board_.get(); }
    /// The last value the board confirmed for a parameter.
    [[nodiscard]] std::optional<int> value(const QString& parameter) const;
    [[nodiscard]] std::size_t samples() const { return telemetry_.size(); }
    void send(const link::Command& command);
    void keepRun();

protected:
    void paintEvent(QPaintEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;

private:
    void readPort();
    void lost(const QString& why);
    void buildControls();
    [[nodiscard]] QRectF chartBox() const;

    Document* document_;
    QString channel_;
    std::unique_ptr<LiveBoard> board_;
    QSerialPort port_;
    link::Decoder decoder_;
    QTimer repaint_;
    bool hello_ = false;
    QString gadget_, note_;
    std::vector<link::ParameterLine> parameters_;
    std::vector<QString> inputs_;
    struct Sample { double time; double share; double current; bool running; };
    std::vector<Sample> telemetry_;
    link::Telemetry last_;
    QWidget* controls_ = nullptr;
    QVBoxLayout* layout_ = nullptr;
    QLabel* state_ = nullptr;
    QLineEdit* where_ = nullptr;
};

}  // namespace hinge::app
