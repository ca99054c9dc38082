#include "shell/labels.hpp"
#include <QEvent>
#include <QFrame>
#include <QLabel>
#include <QPushButton>
#include <QScrollArea>
#include <QVBoxLayout>

namespace hinge::app {

QLabel* label(const QString& words, Text size, const QColor& colour) {
    auto* made = new QLabel(words);
    made->setFont(textFont(size));
    made->setWordWrap(true);
    made->setTextFormat(Qt::PlainText);
    made->setStyleSheet(QString("color: %1;").arg(colour.name()));
    return made;
}

namespace {

// A scroll area asks its body for its least size, and that knows nothing of lines that are broken at its width: without this, rows
// are squashed into the height that is there.
class TallEnough : public QObject {
public:
    using QObject::QObject;
    bool eventFilter(QObject* watched, QEvent* event) override {
        if (event->type() == QEvent::Resize || event->type() == QEvent::LayoutRequest || event->type() == QEvent::Show)
            if (auto* body = qobject_cast<QWidget*>(watched);
                body != nullptr && body->layout() != nullptr && body->layout()->hasHeightForWidth()) {
                const int wanted = body->layout()->totalHeightForWidth(body->width());
                if (wanted != body->minimumHeight()) body->setMinimumHeight(wanted);
            }
        return QObject::eventFilter(watched, event);
    }
};

}  // namespace

QScrollArea* scrolled(QWidget* body) {
    auto* scroll = new QScrollArea;
    body->installEventFilter(new TallEnough(body));
    scroll->setWidgetResizable(true);
    scroll->setFrameShape(QFrame::NoFrame);
    scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    scroll->setFocusPolicy(Qt::NoFocus);
    scroll->setWidget(body);
    return scroll;
}

QPushButton* smallButton(const QString& words, const QString& name, const QString& why) {
    auto* button = new QPushButton(words);
    button->setObjectName(name);
    button->setFont(textFont(Text::Small));
    button->setToolTip(why);
    return button;
}

QFrame* barred(const QColor& bar, bool onCard) {
    auto* frame = new QFrame;
    frame->setObjectName("barred");
    frame->setStyleSheet(QString("QFrame#barred { border: 0; border-left: %1px solid %2; background-color: %3; }")
                             .arg(px(3))
                             .arg(bar.name(), onCard ? colours().card.name() : "transparent"));
    auto* inner = new QVBoxLayout(frame);
    inner->setContentsMargins(px(10), px(onCard ? 5 : 0), px(onCard ? 6 : 0), px(onCard ? 5 : 0));
    inner->setSpacing(px(1));
    return frame;
}

void clear(QLayout* layout) {
    while (auto* item = layout->takeAt(0)) {
        if (item->widget() != nullptr) {
            item->widget()->hide();
            auto* gone = item->widget();
            gone->setParent(nullptr);  // out of reach of findChild at once
            gone->deleteLater();
        } else if (auto* inner = qobject_cast<QBoxLayout*>(item->layout())) {
            clear(inner);
        }
        delete item;
    }
}

QString themeKey() {
    return (isDark() ? "d" : "l") + QString::number(scale(), 'f', 2);
}

}  // namespace hinge::app
