#pragma once
#include <QWidget>
#include <functional>
#include "report/find.hpp"
#include "shell/document.hpp"

class QAction;
class QLineEdit;
class QTreeWidget;

namespace hinge::app {

/// A field over the window: what is typed is looked for in channels, facts, findings, wires, parts, the journal and the window's own
/// commands. Arrows choose, Enter goes there, Esc closes it.
class FindPanel final : public QWidget {
    Q_OBJECT
public:
    FindPanel(Document* document, QWidget* window);
    /// Opens it, empty, with these commands.
    void ask(const QList<QAction*>& commands);

Q_SIGNALS:
    void wanted(const hinge::report::Hit& hit);

protected:
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    void look();
    void take();
    void place();
    Document* document_;
    QLineEdit* field_;
    QTreeWidget* list_;
    std::vector<std::function<void()>> does_;  ///< by row
    QList<QAction*> commands_;
};

}  // namespace hinge::app
