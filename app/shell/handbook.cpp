#include "shell/handbook.hpp"
#include <QAction>
#include <QDesktopServices>
#include <QFile>
#include <QHBoxLayout>
#include <QLineEdit>
#include <QListWidget>
#include <QShortcut>
#include <QTextBlock>
#include <QTextBrowser>
#include <QTextCursor>
#include <QTextDocument>
#include <QTextTable>
#include <QUrl>
#include <QVBoxLayout>
#include <algorithm>
#include <iterator>
#include "theme/theme.hpp"

namespace hinge::app {
namespace {

constexpr const char* pages[] = {"first-gadget",       "recipes", "choosing-a-part", "feeding-it",      "pins-and-pulses",    "behaviour",
                                 "reading-the-sketch", "tuning",  "proving",         "keeping-the-log", "sums-on-a-terminal", "words"};

// The heading of a page without what stands before it.
QString headingOf(const QString& markdown) {
    const auto line = markdown.section('\n', 0, 0);
    return line.startsWith("# ") ? line.mid(2).trimmed() : line;
}

// Tables with one thin line below each row, and room above headings.
void setOut(QTextDocument& page) {
    for (auto* frame : page.rootFrame()->childFrames())
        if (auto* table = qobject_cast<QTextTable*>(frame)) {
            auto format = table->format();
            format.setBorderCollapse(true);
            format.setBorderStyle(QTextFrameFormat::BorderStyle_Solid);
            format.setBorderBrush(colours().line);
            format.setBorder(1);
            format.setCellPadding(px(4));
            format.setCellSpacing(0);
            table->setFormat(format);
        }
    for (auto block = page.begin(); block.isValid(); block = block.next()) {
        if (block.blockFormat().headingLevel() < 2) continue;
        QTextBlockFormat room;
        room.setTopMargin(px(12));
        QTextCursor(block).mergeBlockFormat(room);
    }
}

QString keysPage(const QList<QAction*>& actions) {
    QString page = "# " + Handbook::tr("Keys") + "\n\n| " + Handbook::tr("key") + " | " + Handbook::tr("what it does") + " |\n|---|---|\n";
    const auto row = [&](const QString& keys, const QString& does) { page += "| **" + keys + "** | " + does + " |\n"; };
    for (const auto* action : actions) {
        QStringList keys;
        for (const auto& each : action->shortcuts()) keys << each.toString(QKeySequence::NativeText);
        if (!keys.isEmpty()) row(keys.join(", "), QString(action->text()).remove('&'));
    }
    row("Alt + " + Handbook::tr("arrows"), Handbook::tr("walk along channels and stages"));
    row("Esc", Handbook::tr("back to the crossbar; closes a message"));
    row(Handbook::tr("space"), Handbook::tr("in Tune: everything safe"));
    row("B", Handbook::tr("in Tune: back to the best trial"));
    row(Handbook::tr("right click"), Handbook::tr("on a picture or a formula: copy it, or save it"));
    return page;
}

}  // namespace

QString handbookPage(int stage) {
    using S = project::Stage;
    if (stage < 0) return "first-gadget";
    switch (static_cast<S>(stage)) {
        case S::Need:
        case S::Match: return "choosing-a-part";
        case S::Feed: return "feeding-it";
        case S::Pins:
        case S::Pulse: return "pins-and-pulses";
        case S::Routine: return "behaviour";
        case S::Code: return "reading-the-sketch";
        case S::Tune: return "tuning";
        case S::Prove: return "proving";
        case S::Log: return "keeping-the-log";
    }
    return "first-gadget";
}

Handbook::Handbook(const QList<QAction*>& actions, QWidget* parent) : QWidget(parent, Qt::Window) {
    setObjectName("handbook");
    setWindowTitle(tr("Handbook · Hinge Spark"));
    for (const char* id : pages) {
        QFile file(QString(":/handbook/%1.md").arg(id));
        if (!file.open(QIODevice::ReadOnly)) continue;
        texts_[id] = QString::fromUtf8(file.readAll());
        order_.emplace_back(id);
    }
    texts_["keys"] = keysPage(actions);
    order_.emplace_back("keys");
    auto* row = new QHBoxLayout(this);
    auto* left = new QVBoxLayout;
    search_ = new QLineEdit;
    search_->setObjectName("handbookSearch");
    search_->setPlaceholderText(tr("look for"));
    search_->setAccessibleName(tr("Look for words in the handbook"));
    search_->setClearButtonEnabled(true);
    list_ = new QListWidget;
    list_->setObjectName("handbookPages");
    list_->setAccessibleName(tr("Pages of the handbook"));
    list_->setWordWrap(true);
    list_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    left->addWidget(search_);
    left->addWidget(list_, 1);
    view_ = new QTextBrowser;
    view_->setObjectName("handbookText");
    view_->setOpenLinks(false);
    row->addLayout(left);
    row->addWidget(view_, 1);
    connect(search_, &QLineEdit::textChanged, this, &Handbook::look);
    connect(search_, &QLineEdit::returnPressed, this, &Handbook::next);
    connect(list_, &QListWidget::currentItemChanged, this, [this](const QListWidgetItem* now) {
        if (now != nullptr) openPage(now->data(Qt::UserRole).toString());
    });
    connect(view_, &QTextBrowser::anchorClicked, this, [this](const QUrl& link) {
        const QString id = link.fileName().section('.', 0, 0);
        if (link.isRelative() && texts_.contains(id)) return openPage(id);
        if (!link.isRelative()) QDesktopServices::openUrl(link);
    });
    connect(new QShortcut(QKeySequence::Find, this), &QShortcut::activated, search_, [this] { search_->setFocus(), search_->selectAll(); });
    connect(new QShortcut(QKeySequence(Qt::Key_Escape), this), &QShortcut::activated, this, &QWidget::close);
    resize(px(980), px(680));
    applyTheme();
    look({});
}

void Handbook::applyTheme() {
    const auto& c = colours();
    search_->setFont(textFont(Text::Body));
    list_->setFont(textFont(Text::Body));
    list_->setFixedWidth(px(250));
    search_->setFixedWidth(px(250));
    view_->document()->setDefaultFont(textFont(Text::Body));
    view_->document()->setDocumentMargin(px(14));
    setStyleSheet(
        QString("QWidget#handbook { background-color: %1; } QTextBrowser, QListWidget { background-color: %2; color: %3; border: 1px "
                "solid %4; } QListWidget::item { padding: %5px; } QListWidget::item:selected { background-color: %6; color: %3; padding: "
                "%5px; border: 0; }")
            .arg(c.paper.name(), c.card.name(), c.ink.name(), c.line.name())
            .arg(px(5))
            .arg(c.timeTint.name()));
    const QString page = page_;
    page_.clear();
    if (!page.isEmpty()) openPage(page);
}

void Handbook::openAt(int stage) {
    search_->clear();
    openPage(handbookPage(stage));
    show();
    raise();
    activateWindow();
}

void Handbook::openPage(const QString& page) {
    if (!texts_.contains(page) || page == page_) return mark();
    page_ = page;
    view_->document()->setMarkdown(texts_[page], QTextDocument::MarkdownDialectGitHub);
    setOut(*view_->document());
    view_->moveCursor(QTextCursor::Start);
    for (int i = 0; i < list_->count(); ++i)
        if (list_->item(i)->data(Qt::UserRole).toString() == page && list_->currentRow() != i) {
            const QSignalBlocker quiet(list_);
            list_->setCurrentRow(i);
        }
    mark();
}

std::vector<QString> Handbook::found(const QString& words) const {
    const auto asked = words.simplified().split(' ', Qt::SkipEmptyParts);
    if (asked.isEmpty()) return order_;
    std::vector<std::pair<int, QString>> hits;
    for (const auto& id : order_) {
        const auto& page = texts_.at(id);
        int times = 0;
        bool all = true;
        for (const auto& word : asked) {
            const auto here = static_cast<int>(page.count(word, Qt::CaseInsensitive));
            all = all && here > 0;
            times += here;
        }
        if (all) hits.emplace_back(times, id);
    }
    std::stable_sort(hits.begin(), hits.end(), [](const auto& a, const auto& b) { return a.first > b.first; });
    std::vector<QString> ids;
    std::transform(hits.begin(), hits.end(), std::back_inserter(ids), [](const auto& each) { return each.second; });
    return ids;
}

void Handbook::look(const QString& words) {
    key_ = words.simplified();
    const QSignalBlocker quiet(list_);
    list_->clear();
    for (const auto& id : found(words)) {
        auto* item = new QListWidgetItem(headingOf(texts_.at(id)), list_);
        item->setData(Qt::UserRole, id);
        if (id == page_) list_->setCurrentItem(item);
    }
    // The page that stays in view is the one that is found, else the first of those.
    if (list_->currentItem() == nullptr && list_->count() > 0 && !key_.isEmpty()) {
        list_->setCurrentRow(0);
        openPage(list_->item(0)->data(Qt::UserRole).toString());
    }
    mark();
    if (!key_.isEmpty()) view_->moveCursor(QTextCursor::Start), next();
}

// To the next place of the first word on this page, round and round.
void Handbook::next() {
    const QString word = key_.section(' ', 0, 0);
    if (word.isEmpty()) return;
    if (view_->find(word)) return;
    view_->moveCursor(QTextCursor::Start);
    view_->find(word);
}

// Every place of what is looked for.
void Handbook::mark() {
    QList<QTextEdit::ExtraSelection> places;
    for (const auto& word : key_.split(' ', Qt::SkipEmptyParts))
        for (auto at = view_->document()->find(word); !at.isNull() && places.size() < 500; at = view_->document()->find(word, at)) {
            QTextEdit::ExtraSelection place;
            place.cursor = at;
            place.format.setBackground(colours().timeTint);
            places << place;
        }
    view_->setExtraSelections(places);
}

}  // namespace hinge::app
