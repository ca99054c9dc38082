#pragma once
#include <QWidget>
#include <functional>
#include <optional>
#include "proof/fault_finder.hpp"
#include "shell/document.hpp"
#include "simulation/faulty_gadget.hpp"

class QPushButton;
class QVBoxLayout;

namespace hinge::app {

/// Something fails: what it is likely to be, and the test that tells most for the least effort and risk. Every answer can be taken back.
class FaultPage final : public QWidget {
    Q_OBJECT
public:
    explicit FaultPage(Document* document, QWidget* parent = nullptr);
    void present(const QString& channel);
    /// What was seen first, or what a test has shown.
    void take(const std::string& test, const std::string& outcome);
    /// Takes an answer back.
    void takeBack(const std::string& test);
    /// A gadget with something wrong in it, to practise on: it answers by itself.
    void practise(std::uint32_t seed);
    [[nodiscard]] const std::vector<proof::Seen>& seen() const { return seen_; }
    [[nodiscard]] std::vector<proof::RankedCause> ranked() const;

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    void build();
    QPushButton* button(const QString& words, const QString& name, const std::function<void()>& pressed);
    void addAnswers(const proof::FaultTest& test);
    void buildTold(const proof::FaultFinder& finder);
    void buildSettled(const proof::FaultFinder& finder);
    void buildNext(const proof::FaultFinder& finder);
    void keep();
    Document* document_;
    QString channel_, built_;
    std::vector<proof::Seen> seen_;
    std::optional<simulation::FaultyGadget> practice_;
    simulation::Fault hidden_;
    QWidget* left_ = nullptr;
    QVBoxLayout* asking_ = nullptr;  ///< what to do next
    QVBoxLayout* told_ = nullptr;    ///< what was seen
    QWidget* bars_ = nullptr;        ///< room for the causes, drawn
};

}  // namespace hinge::app
