#pragma once
#include <QTimer>
#include <QWidget>
#include <atomic>
#include <functional>
#include <future>
#include <map>
#include "shell/document.hpp"

class QCheckBox;
class QComboBox;
class QFrame;
class QLabel;
class QPlainTextEdit;
class QPushButton;
class QStackedWidget;
class QTextBrowser;

namespace hinge::app {

/// The emitted sketch, to read, copy, save and write to a board; what has changed in it; and a sketch of the maker's own,
/// run against the plan.
class CodePage final : public QWidget {
    Q_OBJECT
public:
    enum class View { Sketch, Runtime, Difference, Own };
    explicit CodePage(Document* document, QWidget* parent = nullptr);
    ~CodePage() override;
    void present();
    void show(View which);
    /// Runs a sketch or firmware of the maker's own, beside the interface.
    void examine(const QString& file);
    /// Writes the sketch, its runtime and its wiring as a deck; what a hand wrote between the marks of a sketch that stands there is kept.
    void saveTo(const QString& file);
    /// Waits until what was started has come in (for pictures and tests).
    void settle();
Q_SIGNALS:
    void said(const QString& message);

private:
    struct Outcome {
        QString said, html;
    };
    QWidget* makeButtons();
    QWidget* makeUpload();
    void save();
    void upload();
    void fillPorts();
    void start(std::function<Outcome()> work, const QString& doing);
    void collect();
    [[nodiscard]] QString differencePage() const;
    [[nodiscard]] QString runtimePage() const;

    Document* document_;
    QPlainTextEdit* view_ = nullptr;
    QTextBrowser* own_ = nullptr;
    QStackedWidget* stack_ = nullptr;
    QFrame* upload_ = nullptr;
    QComboBox* ports_ = nullptr;
    QCheckBox* safe_ = nullptr;
    QPushButton* write_ = nullptr;
    QPushButton* stop_ = nullptr;
    QLabel* what_ = nullptr;
    QLabel* said_ = nullptr;
    std::map<View, QPushButton*> views_;
    View shown_ = View::Sketch;
    QString themed_, ownHtml_;
    std::future<Outcome> work_;
    QTimer poll_;
    std::atomic<bool> cancel_{false};
};

}  // namespace hinge::app
