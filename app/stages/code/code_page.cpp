#include "stages/code/code_page.hpp"
#include "shell/labels.hpp"
#include "store/document.hpp"
#include <QApplication>
#include <QClipboard>
#include <QFileDialog>
#include <QHBoxLayout>
#include <QPlainTextEdit>
#include <QPushButton>
#include <QRegularExpression>
#include <QSyntaxHighlighter>

namespace hinge::app {
namespace {

// Comments soft, the numbers at the top in time's colour: what a maker looks for.
class Tints final : public QSyntaxHighlighter {
public:
    using QSyntaxHighlighter::QSyntaxHighlighter;

protected:
    void highlightBlock(const QString& line) override {
        static const QRegularExpression named("^const [a-z0-9_ ]+ ([A-Z][A-Z0-9_]*) = ([^;]+);");
        const auto match = named.match(line);
        if (match.hasMatch()) {
            QTextCharFormat strong;
            strong.setForeground(colours().time);
            strong.setFontWeight(QFont::Bold);
            setFormat(static_cast<int>(match.capturedStart(1)), static_cast<int>(match.capturedLength(1)), colours().time);
            setFormat(static_cast<int>(match.capturedStart(2)), static_cast<int>(match.capturedLength(2)), strong);
        }
        const auto comment = line.indexOf("//");
        if (comment >= 0) setFormat(static_cast<int>(comment), static_cast<int>(line.size() - comment), colours().soft);
    }
};

}  // namespace

CodePage::CodePage(Document* document, QWidget* parent) : QWidget(parent), document_(document) {
    setObjectName("codePage");
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(px(4), 0, 0, 0);
    column->setSpacing(px(4));
    auto* row = new QHBoxLayout;
    row->setContentsMargins(px(10), 0, px(14), 0);
    const auto add = [&](const QString& words_of, const QString& name, auto slot) {
        auto* button = new QPushButton(words_of);
        button->setObjectName(name);
        connect(button, &QPushButton::clicked, this, slot);
        row->addWidget(button);
    };
    add(tr("Save the sketch…"), "saveSketch", [this] { save(); });
    add(tr("Copy all"), "copySketch", [this] { QApplication::clipboard()->setText(view_->toPlainText()); });
    row->addStretch();
    view_ = new QPlainTextEdit;
    view_->setObjectName("code");
    view_->setReadOnly(true);
    view_->setLineWrapMode(QPlainTextEdit::NoWrap);
    view_->setFrameShape(QFrame::NoFrame);
    new Tints(view_->document());
    column->addLayout(row);
    column->addWidget(view_, 1);
}

void CodePage::present() {
    const auto& model = document_->model();
    view_->setFont(textFont(Text::Mono));
    view_->setStyleSheet(QString("background-color: %1; padding-left: %2px;").arg(colours().card.name()).arg(px(8)));
    const QString sketch = model.sketch ? text(model.sketch->text) : tr("// The sketch waits for a complete routine and a pin for every channel and input.");
    if (view_->toPlainText() == sketch && themed_ == themeKey()) return;
    themed_ = themeKey();
    view_->setPlainText(sketch);
}

void CodePage::save() {
    const auto& sketch = document_->model().sketch;
    if (!sketch) return Q_EMIT said(tr("There is no sketch yet: it waits for a complete routine and a pin for everything."));
    const QString file = QFileDialog::getSaveFileName(this, tr("Save the sketch"), text(sketch->name) + ".ino", tr("Sketches (*.ino)"));
    if (file.isEmpty()) return;
    const auto written = store::writeWhole(file.toStdString(), sketch->text);
    Q_EMIT said(written ? tr("The sketch is in %1.").arg(file) : tr("Not saved: %1.").arg(words(written.error())));
}

}  // namespace hinge::app
