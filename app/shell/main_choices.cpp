// What the window asks about a channel, and what a press on a name or word offers.
#include <QCursor>
#include <QInputDialog>
#include <QLineEdit>
#include <QMenu>
#include <QMessageBox>
#include <QTimer>
#include "shell/crossbar.hpp"
#include "shell/empty_page.hpp"
#include "shell/main_window.hpp"
#include "theme/theme.hpp"

namespace hinge::app {

using project::Stage;

void MainWindow::askWhatMoves() {
    stage_ = -1;
    asking_ = true;
    layoutEdges();
    refresh();
    empty_->ask();
}

void MainWindow::addChannel(project::ChannelKind kind, const QString& name) {
    auto project = project::addRunningChannel(document_->model().project, kind, name.toStdString());
    const QString id = text(project.channels.back().id);
    document_->replace(std::move(project));
    go(id, 0);
}

void MainWindow::channelMenu(const QString& id, const QPoint& where) {
    const auto& model = document_->model();
    const auto* channel = project::findChannel(model.project, id.toStdString());
    if (channel == nullptr) return;
    const int at = static_cast<int>(channel - model.project.channels.data());
    QMenu menu(this);
    menu.setObjectName("channelMenu");
    menu.addAction(tr("Rename…"), this, [this, id, name = text(channel->name)] {
        bool given = false;
        const QString typed = QInputDialog::getText(this, tr("Rename"), tr("Name"), QLineEdit::Normal, name, &given);
        if (given && !typed.trimmed().isEmpty())
            document_->apply(project::FactEdit{"channels/" + id.toStdString() + "/name", typed.trimmed().toStdString()});
    });
    menu.addAction(tr("Duplicate"), this,
                   [this, id] { document_->replace(project::duplicateChannel(document_->model().project, id.toStdString())); });
    menu.addAction(tr("Move up"), this,
                   [this, id, at] { document_->replace(project::moveChannel(document_->model().project, id.toStdString(), at - 1)); });
    menu.addAction(tr("Move down"), this,
                   [this, id, at] { document_->replace(project::moveChannel(document_->model().project, id.toStdString(), at + 1)); });
    menu.addAction(tr("Remove"), this,
                   [this, id] { document_->replace(project::removeChannel(document_->model().project, id.toStdString())); });
    menu.exec(where);
}

// A word of the routine: a flag flips, an input opens its list, anything else a small field.
void MainWindow::changeWord(const QString& path, const QPoint& where) {
    const auto fact = project::fact(document_->model().project, path.toStdString());
    if (!fact) return;
    const auto set = [this, path](const QString& value) {
        if (const QString why = document_->apply(project::FactEdit{path.toStdString(), value.toStdString()}); !why.isEmpty()) say(why);
    };
    if (fact->type == project::FactType::Flag) return set(fact->exact == "yes" ? "no" : "yes");
    const auto& project = document_->model().project;
    std::vector<std::pair<QString, QString>> choices;
    for (const auto& [value, shown] : fact->choices) choices.emplace_back(text(value), tr(shown.c_str()));
    if (path.endsWith("/input") || path.endsWith("/unless")) {
        choices.emplace_back(QString(), tr("nothing"));
        for (const auto& input : project.inputs) choices.emplace_back(text(input.id), text(input.name));
    } else if (path.endsWith("/belongs_to")) {
        choices.emplace_back(QString(), tr("nothing that the board drives"));
        for (const auto& channel : project.channels) choices.emplace_back(text(channel.id), text(channel.name));
    } else if (path.endsWith("/counts")) {
        for (const auto& cue : project.routine.cues) choices.emplace_back(text(cue.id), text(cue.name));
    }
    if (!choices.empty()) {
        auto* menu = new QMenu(this);
        menu->setAttribute(Qt::WA_DeleteOnClose);
        for (const auto& [value, shown] : choices) menu->addAction(shown, this, [set, value = value] { set(value); });
        return menu->popup(where);
    }
    auto* field = new QLineEdit(this);
    field->setObjectName("wordField");
    field->setWindowFlag(Qt::Popup);
    field->setAttribute(Qt::WA_DeleteOnClose);
    field->setText(text(fact->text));
    field->setPlaceholderText(text(fact->hint));
    field->resize(px(220), px(32));
    field->move(where);
    connect(field, &QLineEdit::returnPressed, this, [set, field] {
        set(field->text());
        field->close();
    });
    field->show();
    field->setFocus();
    field->selectAll();
}

}  // namespace hinge::app
