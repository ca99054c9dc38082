#pragma once
#include <QTimer>
#include <future>
#include "proof/capture_check.hpp"
#include "shell/document.hpp"
#include "stages/pulse/edge_chart.hpp"
#include "stages/pulse/pulse_picture.hpp"

class QLabel;
class QPushButton;
class QStackedWidget;
class QTextBrowser;

namespace hinge::app {

/// What was measured of each line, and how it stands to the plan, as HTML.
[[nodiscard]] QString captureHtml(const capture::Capture& capture, const std::vector<proof::CaptureCheck>& checks);

/// Pulse: the channel's pulses as planned; or all lines as they really were, from the emulated board or
/// from a capture of a real one, laid against the plan.
class PulsePage final : public QWidget {
    Q_OBJECT
public:
    explicit PulsePage(Document* document, QWidget* parent = nullptr);
    ~PulsePage() override;
    void present(const QString& channel);
    void applyTheme();
    /// Reads a capture beside the interface. The last one stays where it fails.
    void openCapture(const QString& path);
    /// Runs the emitted sketch on the emulated board through the scene's script.
    void runSketch();
    /// Waits until what was started has come in (for pictures and tests).
    void settle();
    [[nodiscard]] const std::optional<capture::Capture>& capture() const { return capture_; }
    [[nodiscard]] EdgeChart* edges() const { return edges_; }
    void showPlanned(bool planned);

private:
    struct Outcome {
        std::optional<capture::Capture> capture;
        QString name, problem;
    };
    void start(std::function<Outcome()> work, const QString& doing);
    void collect();
    void showCapture();

    Document* document_;
    QString channel_;
    QPushButton* planned_;
    QPushButton* real_;
    QPushButton* run_;
    QPushButton* open_;
    QPushButton* cancelButton_;
    QStackedWidget* stack_;
    PulsePicture* picture_;
    EdgeChart* edges_;
    QTextBrowser* table_;
    QLabel* said_;
    std::optional<capture::Capture> capture_;
    QString captureName_;
    std::future<Outcome> work_;
    QTimer poll_;
    std::atomic<bool> cancel_{false};
    std::atomic<std::uint64_t> bytes_{0};
    QString doing_;
};

}  // namespace hinge::app
