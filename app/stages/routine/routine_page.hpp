#pragma once
#include <QWidget>
#include <functional>
#include "pictures/scene_chart.hpp"

class QTextBrowser;

namespace hinge::app {

/// The routine: its sentences, inputs to press at the play-head, and the scene that follows.
class RoutinePage final : public QWidget {
    Q_OBJECT
public:
    explicit RoutinePage(Document* document, QWidget* parent = nullptr);
    void present(const QString& channel);
    /// Plays a recorded list of inputs.
    void playList(const QString& file);
Q_SIGNALS:
    /// A word of a sentence was clicked: the path of its fact.
    void wordClicked(const QString& path);
    void said(const QString& message);

private:
    void buildInputs();
    void askColour(const std::string& path);
    void press(const std::string& input);
    void playStory();
    /// Lets something happen at the play-head; its time counts from there.
    void happen(simulation::Event event);
    void offerTrouble(class QMenu& menu);
    void offerTerms(class QMenu& menu, const std::string& interlock);
    /// What can be added to a cue or taken out of it, and what can be added to the routine.
    void offer(const QString& what, const QPoint& where);
    void offerCue(class QMenu& menu, const std::string& cue);
    void edit(QMenu* into, const QString& words, std::vector<project::FactEdit> edits, bool now = false);
    void change(QMenu* into, const QString& words, const std::function<project::Project(project::Project)>& make);
    void offerStarts(QMenu& menu, const routine::Cue& cue);
    void offerMoves(QMenu& menu, const routine::Cue& cue);
    void offerVerbs(QMenu& add, const std::string& id, const project::Channel& channel);
    void offerGuards(QMenu& menu, const routine::Cue& cue);
    void offerNew(class QMenu& menu, const QString& what);

    Document* document_;
    QTextBrowser* sentences_ = nullptr;
    class WrapRow* inputs_ = nullptr;
    SceneChart* chart_ = nullptr;
    QString builtInputs_;
};

}  // namespace hinge::app
