#include "shell/facts_panel.hpp"
#include <QCheckBox>
#include <QComboBox>
#include <QLabel>
#include <QLineEdit>
#include <QScrollArea>
#include <QStyle>
#include <QVBoxLayout>
#include "shell/labels.hpp"

namespace hinge::app {
namespace {

void markRefused(QLineEdit* field, bool refused) {
    if (field == nullptr || field->property("refused").toBool() == refused) return;
    field->setProperty("refused", refused);
    field->style()->unpolish(field);
    field->style()->polish(field);
}

}  // namespace

FactsPanel::FactsPanel(Document* document, QWidget* parent) : QWidget(parent), document_(document) {
    setObjectName("facts");
    auto* outer = new QVBoxLayout(this);
    outer->setContentsMargins(0, 0, 0, 0);
    body_ = new QWidget;
    layout_ = new QVBoxLayout(body_);
    outer->addWidget(scrolled(body_));
}

void FactsPanel::edit(const QString& path, const QString& value) {
    const QString why = document_->apply(project::FactEdit{path.toStdString(), value.toStdString()});
    auto* field = body_->findChild<QLineEdit*>(path);
    markRefused(field, !why.isEmpty());
    if (auto* problem = body_->findChild<QLabel*>("problem:" + path)) {
        // The path is the field it stands under: only the reason is new.
        problem->setText(why.section(": ", 1).isEmpty() ? why : why.section(": ", 1));
        problem->setVisible(!why.isEmpty());
    }
}

void FactsPanel::present(project::Stage stage, const QString& channel) {
    const auto groups = factsOf(document_->model(), stage, channel);
    QString key = QString::number(static_cast<int>(stage)) + channel + themeKey();
    for (const auto& group : groups) {
        key += group.heading;
        for (const auto& fact : group.facts) {
            key += text(fact.path) + (fact.spread ? "±" : "");
            for (const auto& [id, words_of] : fact.choices) key += text(id) + text(words_of);
        }
    }
    if (key != built_) {
        built_ = key;
        build(groups);
    }
    refresh(groups);
}

void FactsPanel::build(const std::vector<FactGroup>& groups) {
    clear(layout_);
    layout_->setContentsMargins(px(14), px(12), px(12), px(12));
    layout_->setSpacing(px(3));
    layout_->addWidget(
        label(groups.empty() ? tr("Nothing to decide here") : tr("What you decided or measured"), Text::Small, colours().soft));
    for (const auto& group : groups) {
        if (!group.heading.isEmpty()) {
            layout_->addSpacing(px(8));
            layout_->addWidget(label(group.heading, Text::Figure, colours().ink));
        }
        for (const auto& fact : group.facts) addFact(fact);
    }
    layout_->addStretch();
}

void FactsPanel::addFact(const project::Fact& fact) {
    const auto& c = colours();
    const QString path = text(fact.path);
    auto* row = new QWidget;
    auto* line = new QHBoxLayout(row);
    line->setContentsMargins(0, px(3), 0, 0);
    line->setSpacing(px(8));
    const bool quantity = fact.type == project::FactType::Quantity, flag = fact.type == project::FactType::Flag;
    auto* name = label(tr(fact.label.c_str()), Text::Body, c.ink);
    if (quantity || flag) line->addWidget(name, 1);
    else layout_->addWidget(name);
    if (flag) {
        auto* box = new QCheckBox;
        box->setObjectName(path);
        connect(box, &QCheckBox::clicked, this, [this, path](bool on) { edit(path, on ? "yes" : "no"); });
        line->addWidget(box);
    } else if (!fact.choices.empty()) {
        auto* box = new QComboBox;
        box->setObjectName(path);
        box->setFont(textFont(Text::Body));
        box->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
        box->setMinimumContentsLength(8);
        if (fact.type == project::FactType::Text && !fact.choices.front().first.empty()) box->addItem(tr("not chosen"), QString());
        for (const auto& [id, words_of] : fact.choices) box->addItem(tr(words_of.c_str()), text(id));
        connect(box, &QComboBox::activated, this, [this, path, box](int index) { edit(path, box->itemData(index).toString()); });
        line->addWidget(box, 1);
    } else {
        auto* field = new QLineEdit;
        field->setObjectName(path);
        field->setFont(textFont(Text::Body));
        if (quantity) {
            field->setAlignment(Qt::AlignRight);
            field->setFixedWidth(px(fact.spread ? 118 : 98));
            field->setToolTip(tr("Any fitting unit. %1.").arg(text(fact.range)));
        }
        connect(field, &QLineEdit::editingFinished, this, [this, path, field] {
            if (!field->isModified()) return;
            field->setModified(false);
            edit(path, field->text());
        });
        line->addWidget(field, quantity ? 0 : 1);
    }
    // What is read out is the label, and its hint behind it.
    if (auto* field = row->findChild<QWidget*>(path)) {
        field->setAccessibleName(tr(fact.label.c_str()));
        field->setAccessibleDescription(tr(fact.hint.c_str()));
        name->setBuddy(field);
    }
    layout_->addWidget(row);
    if (!fact.hint.empty()) layout_->addWidget(label(tr(fact.hint.c_str()), Text::Small, c.soft));
    auto* problem = label("", Text::Small, c.breaks);
    problem->setObjectName("problem:" + path);
    problem->hide();
    layout_->addWidget(problem);
}

// What an empty field means: where its hint says so ("empty: none fitted"), that, else that nobody knows.
QString FactsPanel::emptyWord(const project::Fact& fact) {
    static const std::string mark = "empty: ";
    const auto at = fact.hint.find(mark);
    if (at == std::string::npos) return tr("not known");
    const auto from = at + mark.size();
    return text(fact.hint.substr(from, fact.hint.find_first_of(",;", from) - from));
}

// Puts the values in; a field that is being typed into, or was refused, keeps its text.
void FactsPanel::refresh(const std::vector<FactGroup>& groups) {
    for (const auto& group : groups)
        for (const auto& fact : group.facts) {
            const QString path = text(fact.path);
            auto* problem = body_->findChild<QLabel*>("problem:" + path);
            if (auto* field = body_->findChild<QLineEdit*>(path)) {
                if (!field->isModified() || !field->hasFocus()) {
                    field->setText(text(fact.text));
                    field->setModified(false);
                    if (!field->hasFocus()) field->setCursorPosition(0);
                }
                field->setPlaceholderText(fact.type == project::FactType::Quantity ? emptyWord(fact) : QString());
                if (!field->hasFocus() && problem != nullptr && field->property("refused").toBool()) {
                    markRefused(field, false);
                    problem->hide();
                }
            } else if (auto* box = body_->findChild<QComboBox*>(path)) {
                box->setCurrentIndex(box->findData(text(fact.exact)));
            } else if (auto* check = body_->findChild<QCheckBox*>(path)) {
                check->setChecked(fact.exact == "yes");
            }
        }
}

}  // namespace hinge::app
