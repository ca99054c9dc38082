#pragma once
#include <QWidget>
#include "shell/document.hpp"

class QLabel;
class QLineEdit;
class QPushButton;
class QStackedWidget;
class QVBoxLayout;

namespace hinge::app {

class FaultPage;
class FitPage;
class LinkReader;
class LinkSession;
class ProbePicture;
class ReadingScale;
class SamplesPage;
class WiringPicture;

/// The first power-up: hold points down the left, the one in hand in large type, and a scale that
/// shows where the reading should fall and where it fell.
class ProvePage final : public QWidget {
    Q_OBJECT
public:
    enum class View { BringUp, Samples, Fit, Faults };
    ProvePage(Document* document, LinkSession* session, QWidget* parent = nullptr);
    void present(const QString& channel);
    void showView(View view);
    [[nodiscard]] View view() const;
    /// Takes a step in hand.
    void choose(const QString& step);
    /// One step alone, in type that is read at arm's length.
    void setLarge(bool on);
    [[nodiscard]] bool large() const { return large_; }
    /// Attaches a photo to the step in hand; what is wrong with it is said in place.
    void attach(const QString& file);
    /// A wire that is lit up elsewhere. @param wire  row of the list; drawing::no_wire: none
    void light(int wire);
    [[nodiscard]] LinkReader* reader() const { return reader_; }
    [[nodiscard]] FaultPage* faults() const { return faults_; }

Q_SIGNALS:
    void viewShown();

private:
    void makeCard(QVBoxLayout* column);
    void build();
    void seeStep();
    void showStep();
    void take(const QString& typed);
    void takeOverLink();
    void saveTest();
    void refuse(const QString& why);
    void walk(int by);
    [[nodiscard]] const proof::Step* inHand() const;

    Document* document_;
    QString channel_, step_, built_;
    bool large_ = false;
    LinkReader* reader_ = nullptr;
    QVBoxLayout* list_ = nullptr;
    QLabel *phase_ = nullptr, *title_ = nullptr, *what_ = nullptr, *range_ = nullptr, *ready_ = nullptr, *caution_ = nullptr,
           *said_ = nullptr, *photo_ = nullptr;
    QLineEdit* field_ = nullptr;
    ReadingScale* scale_ = nullptr;
    ProbePicture* probe_ = nullptr;
    WiringPicture* circuit_ = nullptr;  ///< of the channel that the step in hand is about
    QStackedWidget* stack_ = nullptr;
    FaultPage* faults_ = nullptr;
    SamplesPage* samples_ = nullptr;
    FitPage* fit_ = nullptr;
    std::vector<QPushButton*> tabs_;
    QPushButton *link_ = nullptr, *test_ = nullptr, *attach_ = nullptr, *skip_ = nullptr, *enlarge_ = nullptr;
};

}  // namespace hinge::app
