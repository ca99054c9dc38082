#include "shell/find_panel.hpp"
#include <QAction>
#include <QHeaderView>
#include <QKeyEvent>
#include <QLineEdit>
#include <QTreeWidget>
#include <QVBoxLayout>
#include <map>
#include <set>
#include "quantity/names.hpp"
#include "shell/labels.hpp"
#include "stages/facts_view.hpp"
#include "theme/text.hpp"
#include "theme/theme.hpp"

namespace hinge::app {
namespace {

constexpr std::size_t rows_each = 6;

QString sortOf(report::Found what) {
    switch (what) {
        case report::Found::Channel: return FindPanel::tr("channel");
        case report::Found::Fact: return FindPanel::tr("fact");
        case report::Found::Finding: return FindPanel::tr("finding");
        case report::Found::Wire: return FindPanel::tr("wire");
        case report::Found::Part: return FindPanel::tr("part");
        case report::Found::Journal: return FindPanel::tr("journal");
    }
    return {};
}

}  // namespace

FindPanel::FindPanel(Document* document, QWidget* window) : QWidget(window), document_{document} {
    setObjectName("findPanel");
    setAttribute(Qt::WA_StyledBackground);
    auto* layout = new QVBoxLayout(this);
    field_ = new QLineEdit;
    field_->setObjectName("find");
    field_->setPlaceholderText(tr("a channel, a fact, a wire, a part, a finding, a command"));
    field_->setAccessibleName(tr("Find in this gadget"));
    list_ = new QTreeWidget;
    list_->setObjectName("found");
    list_->setAccessibleName(tr("What was found"));
    list_->setFocusPolicy(Qt::NoFocus);
    list_->setHeaderHidden(true);
    list_->setRootIsDecorated(false);
    list_->setUniformRowHeights(true);
    list_->setColumnCount(3);
    list_->header()->setStretchLastSection(true);
    layout->addWidget(field_);
    layout->addWidget(list_);
    connect(field_, &QLineEdit::textChanged, this, &FindPanel::look);
    connect(field_, &QLineEdit::returnPressed, this, &FindPanel::take);
    connect(list_, &QTreeWidget::itemClicked, this, &FindPanel::take);
    field_->installEventFilter(this);
    window->installEventFilter(this);
    hide();
}

void FindPanel::ask(const QList<QAction*>& commands) {
    const auto& c = colours();
    setStyleSheet(
        QString("QWidget#findPanel { background-color: %1; border: 2px solid %2; border-radius: 6px; }").arg(c.card.name(), c.ink.name()));
    commands_ = commands;
    field_->clear();
    look();
    place();
    show();
    raise();
    field_->setFocus();
}

void FindPanel::place() {
    auto* window = parentWidget();
    const int wide = std::min(px(640), window->width() - px(40));
    const int high = px(60) + std::min(px(420), list_->topLevelItemCount() * px(26) + px(8));
    setGeometry((window->width() - wide) / 2, px(90), wide, std::min(high, window->height() - px(120)));
}

void FindPanel::look() {
    list_->clear();
    does_.clear();
    const auto& model = document_->model();
    const auto wanted_text = field_->text().toStdString();
    const auto add = [&](const QString& sort, const QString& name, const QString& detail, std::function<void()> does) {
        auto* row = new QTreeWidgetItem({name, sort, detail});
        row->setForeground(1, colours().soft);
        row->setToolTip(2, detail);
        row->setSizeHint(0, QSize(px(10), px(26)));
        list_->addTopLevelItem(row);
        does_.push_back(std::move(does));
    };
    std::map<report::Found, std::size_t> rows;
    std::map<std::pair<project::Stage, std::string>, std::set<std::string>> fields;  // what has a field, looked up once for each page
    const auto hasField = [&](const report::Hit& fact) {
        const auto [at, first] = fields.try_emplace({fact.stage, fact.channel});
        if (first)
            for (const auto& group : factsOf(model, fact.stage, text(fact.channel)))
                for (const auto& each : group.facts) at->second.insert(each.path);
        return at->second.contains(fact.path);
    };
    for (const auto& hit : report::find(model.project, model.parts, model.plan, wanted_text, 40)) {
        // A fact that has no field as things are would lead nowhere.
        if (rows[hit.what] >= rows_each || (hit.what == report::Found::Fact && !hasField(hit))) continue;
        ++rows[hit.what];
        const QString stage = tr(labelOf(hit.stage));
        add(hit.what == report::Found::Fact || hit.what == report::Found::Finding ? QString("%1, %2").arg(sortOf(hit.what), stage)
                                                                                  : sortOf(hit.what),
            text(hit.name), text(hit.detail), [this, hit] { Q_EMIT wanted(hit); });
    }
    for (auto* command : commands_)
        if (!command->isSeparator() && command->menu() == nullptr && report::hasWords(command->text().toStdString(), wanted_text))
            add(tr("command"), command->text(), command->shortcut().toString(QKeySequence::NativeText), [command] { command->trigger(); });
    const int whole = list_->viewport()->width();
    list_->setColumnWidth(0, whole * 45 / 100);
    list_->setColumnWidth(1, whole * 20 / 100);
    if (!does_.empty()) {
        list_->setCurrentItem(list_->topLevelItem(0));
    } else if (!field_->text().trimmed().isEmpty()) {
        list_->addTopLevelItem(new QTreeWidgetItem({tr("Nothing of this gadget has all of that. Parts are found by their names.")}));
        list_->setFirstColumnSpanned(0, {}, true);
    }
    if (isVisible()) place();
}

void FindPanel::take() {
    const int row = list_->indexOfTopLevelItem(list_->currentItem());
    if (row < 0 || static_cast<std::size_t>(row) >= does_.size()) return;
    const auto does = does_[static_cast<std::size_t>(row)];
    hide();
    does();
}

bool FindPanel::eventFilter(QObject* watched, QEvent* event) {
    if (watched == parentWidget() && event->type() == QEvent::Resize && isVisible()) place();
    if (watched != field_) return QWidget::eventFilter(watched, event);
    if (event->type() == QEvent::FocusOut) hide();
    if (event->type() != QEvent::KeyPress) return QWidget::eventFilter(watched, event);
    const int key = static_cast<QKeyEvent*>(event)->key();
    if (key == Qt::Key_Escape) {
        hide();
        parentWidget()->setFocus();
        return true;
    }
    if (key != Qt::Key_Down && key != Qt::Key_Up) return QWidget::eventFilter(watched, event);
    const int count = static_cast<int>(does_.size());
    const int at = list_->indexOfTopLevelItem(list_->currentItem());
    if (count > 0) list_->setCurrentItem(list_->topLevelItem((at + (key == Qt::Key_Down ? 1 : count - 1)) % count));
    return true;
}

}  // namespace hinge::app
