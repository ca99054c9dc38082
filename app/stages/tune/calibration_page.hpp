#pragma once
#include <QTimer>
#include <QWidget>
#include <functional>
#include <map>
#include "plan/calibration.hpp"
#include "shell/document.hpp"
#include "stages/tune/link_session.hpp"

class QPushButton;
class QVBoxLayout;

namespace hinge::app {

/// The short guided runs of a channel: one step at a time in large type, with its picture; what was found goes into the project.
class CalibrationPage final : public QWidget {
    Q_OBJECT
public:
    CalibrationPage(Document* document, LinkSession* session, QWidget* parent = nullptr);
    void present(const QString& channel);
    /// Begins a run by its id.
    void begin(const QString& run);
    [[nodiscard]] const std::vector<plan::SweepPoint>& sweep() const { return sweep_; }
    [[nodiscard]] bool sweeping() const { return sweepAt_ >= 0; }

Q_SIGNALS:
    void said(const QString& words);

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    /// The step that stands there, the channel's output, and the button that leaves the run.
    struct Now {
        const plan::CalibrationStep& now;
        int output;
        QPushButton* leave;
    };
    void build();
    void buildChoice();
    QPushButton* button(const QString& words, const QString& name, bool main, const std::function<void()>& pressed);
    void row(std::initializer_list<QWidget*> widgets);
    void stepNudge(const Now& at);
    void stepSweep(const Now& at);
    void stepThereAndBack(const Now& at);
    void stepRunFor(const Now& at);
    void stepTakeReading(const Now& at);
    void stepType(const Now& at);
    void next();
    void keep(const QString& path, const QString& value);
    void finish();
    void startSweep();
    void turn();
    [[nodiscard]] const plan::CalibrationStep* step() const;

    Document* document_;
    LinkSession* session_;
    QString channel_, key_;
    std::vector<plan::CalibrationRun> runs_;
    int run_ = -1;
    std::size_t step_ = 0;
    QVBoxLayout* layout_;
    QTimer turn_;
    std::vector<plan::SweepPoint> sweep_;
    int sweepAt_ = -1;        ///< place in the sweep; −1: none runs
    double sweepFrom_ = 0.0;  ///< board's time at which this share was set
    int rate_ = 0;            ///< place among the rising rates
    double lastGood_ = 0.0;
    std::vector<project::FactEdit> found_;  ///< applied together at the end, one undo
};

}  // namespace hinge::app
