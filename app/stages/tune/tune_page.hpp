#pragma once
#include <QTimer>
#include <QWidget>
#include <atomic>
#include <functional>
#include <future>
#include "control/practice.hpp"
#include "control/search.hpp"
#include "stages/tune/calibration_page.hpp"
#include "stages/tune/link_session.hpp"
#include "stages/tune/response_picture.hpp"
#include "stages/tune/strip_chart.hpp"

class QComboBox;
class QLabel;
class QLineEdit;
class QPushButton;
class QScrollArea;
class QStackedWidget;
class QVBoxLayout;

namespace hinge::app {

class GainTrack;
struct TrialLine;

/// Live over the line protocol: gains with what they do, trials, a strip chart of everything, short calibrations, and
/// machines to practise on.
class TunePage final : public QWidget {
    Q_OBJECT
public:
    enum class View { Response, Strip, Calibrate, Practice };
    explicit TunePage(Document* document, QWidget* parent = nullptr);
    ~TunePage() override;
    void present(const QString& channel);
    void showView(View view);
    [[nodiscard]] View view() const { return view_; }
    void stopEverything() { session_.send(link::Stop{}); }
    [[nodiscard]] LinkSession& session() { return session_; }
    [[nodiscard]] ResponsePicture* response() const { return response_; }
    [[nodiscard]] StripChart* strip() const { return strip_; }
    [[nodiscard]] CalibrationPage* calibration() const { return calibration_; }
    /// The sentence over it all; empty: the stage's own.
    [[nodiscard]] QString sentence() const;
    /// How to read the picture.
    [[nodiscard]] QString hint() const;
    /// Looks for gains beside the interface. settle() waits for them (for pictures and tests).
    void search(control::Cost cost);
    void settle();
    /// The trials of the loop in sight, as they lie in the project's folder.
    [[nodiscard]] const std::vector<journal::Trial>& trials() const { return trials_; }
    void goBackToBest();
    void chooseExercise(int index);
    [[nodiscard]] const control::Score& score() const { return score_; }
    /// A gain of the loop in sight, by the letter on its track.
    void setGain(char which, double value);
    [[nodiscard]] control::ParallelGains gains() const;

Q_SIGNALS:
    void told();

protected:
    void paintEvent(QPaintEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    void build();
    void makeTabs();
    void takePi(double proportional, double integral);
    /// Says what was found, and builds the controls anew.
    void tell();
    QPushButton* button(const QString& words, const QString& name, const std::function<void()>& pressed);
    void buildWhere();
    void buildGains(const routine::Loop& held);
    void buildWays();
    void buildTrials();
    void addTrial(const TrialLine& trial);
    void trialMenu(const QString& id, const QPoint& at);
    void buildContacts();
    void buildRadio();
    void buildNumbers();
    void buildPractice();
    void buildRight();
    void addParameter(const link::ParameterLine& parameter);
    void addGain(char which, const QString& words, double value, double most, const QString& unit);
    void refresh();  ///< the response, its words, and where each gain holds
    void readTrials();
    void takeGain(char which, double value);
    void sendGains();
    void keepGains();
    void lead();
    void runRelay();
    void fitStep();
    void fitOpen(const journal::Trial& trial);
    void showLanes();
    void collect();
    [[nodiscard]] const routine::Loop* loop() const;
    [[nodiscard]] bool practising() const { return view_ == View::Practice; }
    [[nodiscard]] int controlsWidth() const;
    [[nodiscard]] int rightWidth() const;
    void drawTank(QPainter& painter, const QRectF& box, const plant::Observation& seen);

    Document* document_;
    QString channel_, built_;
    double turning_ = 0.0;  ///< phase of what goes on turning, 0 to 1
    LinkSession session_;
    QTimer repaint_, poll_, refresh_;
    View view_ = View::Strip;
    bool chosen_ = false;  ///< the view was picked by hand
    QWidget* controls_ = nullptr;
    QScrollArea* scroll_ = nullptr;
    QVBoxLayout* layout_ = nullptr;
    QLabel* state_ = nullptr;
    QLabel* aired_ = nullptr;  ///< what came back by radio
    QLabel* note_ = nullptr;
    QComboBox* where_ = nullptr;
    QPushButton* stop_ = nullptr;
    QWidget* tabRow_ = nullptr;
    std::vector<QPushButton*> tabs_;
    QStackedWidget* stack_ = nullptr;
    ResponsePicture* response_ = nullptr;
    StripChart* strip_ = nullptr;
    CalibrationPage* calibration_ = nullptr;
    QWidget* right_ = nullptr;
    QVBoxLayout* rightLayout_ = nullptr;
    // The loop in sight, and its gains as they stand on the tracks.
    std::optional<plan::LoopCase> case_;
    std::optional<routine::Loop> draft_;
    std::vector<std::pair<char, GainTrack*>> tracks_;
    std::vector<std::pair<char, QLineEdit*>> fields_;
    std::vector<journal::Trial> trials_;
    QString now_, said_;
    control::GuideStep guide_ = control::GuideStep::RaiseP;
    std::future<Result<control::SearchResult>> searching_;
    std::atomic<bool> cancel_{false};
    // Practice.
    int exercise_ = 0, hints_ = 0;
    control::ParallelGains tried_;
    control::Score score_;
};

}  // namespace hinge::app
