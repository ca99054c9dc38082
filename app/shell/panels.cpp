#include "shell/panels.hpp"
#include "quantity/text.hpp"
#include "theme/theme.hpp"
#include <QCheckBox>
#include <QComboBox>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QScrollArea>
#include <QVBoxLayout>
#include <algorithm>

namespace hinge::app {
namespace {

QScrollArea* scrolled(QWidget* body) {
    auto* scroll = new QScrollArea;
    scroll->setWidgetResizable(true);
    scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    scroll->setWidget(body);
    return scroll;
}

QLabel* label(const QString& words, Text size, const QColor& colour, QWidget* parent = nullptr) {
    auto* made = new QLabel(words, parent);
    made->setFont(textFont(size));
    made->setWordWrap(true);
    made->setStyleSheet(QString("color: %1; background: transparent;").arg(colour.name()));
    return made;
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

std::vector<project::Fact> FactsPanel::chosen(int stage, const QString& channel) const {
    const auto& model = document_->model();
    const std::string own = "channels/" + channel.toStdString() + "/";
    const auto* decided = project::findChannel(model.project, channel.toStdString());
    std::vector<project::Fact> list;
    for (auto& fact : project::facts(model.project)) {
        const auto s = static_cast<int>(fact.stage);
        const bool of_channel = fact.path.starts_with("channels/");
        if (of_channel && !fact.path.starts_with(own)) continue;
        if (channel.isEmpty() && of_channel) continue;
        if (!channel.isEmpty() && fact.path.starts_with("brief/") && stage == 0) continue;
        // The cup is Need's quick measurement and Tune's calibration.
        const bool cup = fact.path.find("/calibration/") != std::string::npos;
        if (s != stage && !(cup && stage == static_cast<int>(project::Stage::Tune))) continue;
        if (fact.path.starts_with("rails/")) {
            const auto slash = fact.path.find('/', 6);
            const auto* rail = project::findRail(model.project, fact.path.substr(6, slash - 6));
            const auto leaf = fact.path.substr(slash + 1);
            if (rail == nullptr) continue;
            const bool linear = rail->conversion == power::Conversion::Linear, buck = rail->conversion == power::Conversion::Buck;
            if ((leaf == "dropout" || leaf == "theta_ja") && !linear) continue;
            if (leaf == "efficiency" && !buck) continue;
            if (leaf == "voltage" && !linear && !buck) continue;
            if (leaf == "bulk_esr" && !rail->bulk) continue;
            fact.label = rail->name + ": " + fact.label;
        } else if (fact.path.starts_with("inputs/")) {
            const auto id = fact.path.substr(7, fact.path.find('/', 7) - 7);
            if (const auto* input = project::findInput(model.project, id); input != nullptr && fact.label != "Input") fact.label = input->name + ": " + fact.label;
        }
        const auto choices = [&](const std::string& leaf) {
            if (leaf == "actuator") for (const auto& pump : model.parts.pumps) fact.choices.emplace_back(pump.id, pump.name);
            if (leaf == "part") for (const auto& part : model.parts.switches) fact.choices.emplace_back(part.id, part.name);
            if (leaf == "rail") for (const auto& rail : model.project.rails) fact.choices.emplace_back(rail.id, rail.name);
            if (leaf == "pin") for (const auto& pin : board::family(model.project.board.form).pins) {
                std::string words{pin.name};
                if (pin.pwm_timer >= 0) words += " · PWM, timer " + std::to_string(pin.pwm_timer);
                if (!pin.shares.empty()) words += " · " + std::string{pin.shares};
                fact.choices.emplace_back(std::string{pin.name}, words);
            }
            if (leaf == "input") {
                fact.choices.emplace_back("", "nothing");
                for (const auto& input : model.project.inputs) fact.choices.emplace_back(input.id, input.name);
            }
        };
        if (fact.type == project::FactType::Text) choices(fact.path.substr(fact.path.rfind('/') + 1));
        list.push_back(std::move(fact));
    }
    static_cast<void>(decided);
    return list;
}

void FactsPanel::edit(const QString& path, const QString& value) {
    const QString why = document_->apply(project::FactEdit{path.toStdString(), value.toStdString()});
    if (auto* problem = body_->findChild<QLabel*>("problem:" + path)) {
        problem->setText(why);
        problem->setVisible(!why.isEmpty());
    }
    if (!why.isEmpty()) return;
}

void FactsPanel::present(int stage, const QString& channel) {
    stage_ = stage;
    channel_ = channel;
    const auto facts = chosen(stage, channel);
    QString key = QString::number(stage) + channel + (isDark() ? "d" : "l") + QString::number(scale());
    for (const auto& fact : facts) key += text(fact.path) + QString::number(fact.choices.size());
    if (key != built_) {
        built_ = key;
        build(facts);
    }
    refresh(facts);
    if (stage == static_cast<int>(project::Stage::Match)) candidates(channel);
}

void FactsPanel::build(const std::vector<project::Fact>& facts) {
    const auto& c = colours();
    while (auto* item = layout_->takeAt(0)) {
        delete item->widget();
        delete item;
    }
    list_ = nullptr;
    layout_->setContentsMargins(px(14), px(12), px(12), px(12));
    layout_->setSpacing(px(3));
    layout_->addWidget(label(facts.empty() ? tr("Nothing to decide here") : tr("What you decided or measured"), Text::Small, c.soft));
    for (const auto& fact : facts) {
        const QString path = text(fact.path);
        auto* row = new QWidget;
        auto* line = new QHBoxLayout(row);
        line->setContentsMargins(0, px(3), 0, 0);
        const bool wide = fact.type == project::FactType::Text || !fact.choices.empty();
        auto* name = label(tr(fact.label.c_str()), Text::Body, c.ink);
        if (wide) {
            layout_->addWidget(name);
        } else {
            line->addWidget(name, 1);
        }
        if (fact.type == project::FactType::Flag) {
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
            if (fact.type == project::FactType::Text && fact.choices.front().first != "") box->addItem(tr("not chosen"), QString());
            for (const auto& [id, words_text] : fact.choices) box->addItem(tr(words_text.c_str()), text(id));
            connect(box, &QComboBox::activated, this, [this, path, box](int index) { edit(path, box->itemData(index).toString()); });
            line->addWidget(box, 1);
        } else {
            auto* field = new QLineEdit;
            field->setObjectName(path);
            field->setFont(textFont(Text::Body));
            if (fact.type == project::FactType::Quantity) {
                field->setAlignment(Qt::AlignRight);
                field->setFixedWidth(px(98));
                field->setToolTip(tr("Any fitting unit. %1.").arg(text(fact.range)));
            }
            connect(field, &QLineEdit::editingFinished, this, [this, path, field] {
                if (!field->isModified()) return;
                field->setModified(false);
                edit(path, field->text());
            });
            line->addWidget(field, wide ? 1 : 0);
        }
        layout_->addWidget(row);
        if (!fact.hint.empty()) layout_->addWidget(label(tr(fact.hint.c_str()), Text::Small, c.soft));
        auto* problem = label("", Text::Small, c.breaks);
        problem->setObjectName("problem:" + path);
        problem->hide();
        layout_->addWidget(problem);
    }
    if (stage_ == static_cast<int>(project::Stage::Match)) {
        list_ = new QWidget;
        new QVBoxLayout(list_);
        layout_->addWidget(list_);
    }
    layout_->addStretch();
}

void FactsPanel::refresh(const std::vector<project::Fact>& facts) {
    for (const auto& fact : facts) {
        const QString path = text(fact.path);
        if (auto* field = body_->findChild<QLineEdit*>(path)) {
            if (!field->isModified() || !field->hasFocus()) {
                field->setText(text(fact.text));
                field->setModified(false);
            }
            field->setPlaceholderText(tr("not known"));
        } else if (auto* box = body_->findChild<QComboBox*>(path)) {
            box->setCurrentIndex(box->findData(text(fact.exact)));
        } else if (auto* check = body_->findChild<QCheckBox*>(path)) {
            check->setChecked(fact.exact == "yes");
        }
        if (auto* problem = body_->findChild<QLabel*>("problem:" + path))
            if (auto* field = body_->findChild<QLineEdit*>(path); field == nullptr || !field->hasFocus()) problem->hide();
    }
}

void FactsPanel::candidates(const QString& channel) {
    const auto& c = colours();
    const auto* plan_of = plan::findChannel(document_->model().plan, channel.toStdString());
    if (list_ == nullptr || plan_of == nullptr) return;
    auto* layout = static_cast<QVBoxLayout*>(list_->layout());
    while (auto* item = layout->takeAt(0)) {
        if (item->widget() != nullptr) item->widget()->deleteLater();
        delete item;
    }
    layout->setContentsMargins(0, px(8), 0, 0);
    layout->setSpacing(px(5));
    layout->addWidget(label(tr("Candidates, best first"), Text::Small, c.soft));
    const auto* decided = project::findChannel(document_->model().project, channel.toStdString());
    int n = 0;
    for (const auto& pairing : plan_of->pump.ranked) {
        const bool now = decided != nullptr && pairing.pump == decided->actuator && pairing.part == decided->drive.part;
        const auto short_name = [](const std::string& name) { return text(name.substr(0, name.find(" ·"))); };
        auto* row = new QPushButton;
        row->setObjectName(QString("candidate_%1").arg(n));
        row->setFlat(true);
        auto* inner = new QVBoxLayout(row);
        inner->setContentsMargins(px(10), px(3), px(4), px(3));
        inner->setSpacing(0);
        const QColor bar = now ? c.hinge : pairing.verdict == Verdict::Breaks ? c.breaks : pairing.verdict == Verdict::Unknown ? c.soft : c.ink;
        row->setStyleSheet(QString("QPushButton { border: 0; border-left: %1px solid %2; background: %3; border-radius: 0; padding: 0; text-align: left; }").arg(px(4)).arg(bar.name(), now ? c.card.name() : c.paper.name()));
        auto* title = label(short_name(pairing.pump_name) + " + " + short_name(pairing.part_name) + (now ? tr(" · chosen") : ""), Text::Body, c.ink);
        auto* why = label(verdictWord(pairing.verdict) + ": " + text(pairing.reason), Text::Small, c.soft);
        for (auto* part : {title, why}) part->setAttribute(Qt::WA_TransparentForMouseEvents);
        inner->addWidget(title);
        inner->addWidget(why);
        const int width = px(210);
        row->setMinimumHeight(title->heightForWidth(width) + why->heightForWidth(width) + px(8));
        row->setToolTip(text(pairing.pump_name + " + " + pairing.part_name));
        connect(row, &QPushButton::clicked, this, [this, channel, pairing] {
            const std::string base = "channels/" + channel.toStdString() + "/";
            document_->apply({{base + "actuator", pairing.pump}, {base + "drive/part", pairing.part}});
        });
        layout->addWidget(row);
        if (++n >= 40) break;
    }
}

WorkingPanel::WorkingPanel(QWidget* parent) : QWidget(parent) {
    setObjectName("working");
    auto* outer = new QVBoxLayout(this);
    outer->setContentsMargins(0, 0, 0, 0);
    body_ = new QWidget;
    new QVBoxLayout(body_);
    outer->addWidget(scrolled(body_));
}

void WorkingPanel::present(const Model& model, int stage, const QString& channel) {
    const auto& c = colours();
    QString html;
    const auto family = [&](Kind kind) {
        switch (kind) {
            case Kind::Voltage: case Kind::Current: case Kind::Resistance: case Kind::Power: case Kind::Charge: case Kind::Capacitance: case Kind::Temperature: return c.spark;
            case Kind::Duration: case Kind::Frequency: case Kind::Count: return c.time;
            default: return c.hinge;
        }
    };
    std::vector<const plan::ShownWorking*> shown;
    for (const auto& working : model.plan.workings) {
        if (static_cast<int>(working.stage) != stage) continue;
        if (!working.channel.empty() && text(working.channel) != channel) continue;
        shown.push_back(&working);
    }
    QString key = QString::number(stage) + (isDark() ? "d" : "l") + QString::number(scale());
    for (const auto* working : shown)
        for (const auto& step : working->steps) key += text(step.symbol) + text(step.substituted) + (step.value ? QString::number(*step.value, 'g', 8) : "");
    if (model.plan.proofs)
        for (const auto& proof : *model.plan.proofs) key += text(proof.text) + QString::number(static_cast<int>(proof.status));
    if (model.evidence.build) key += QString::number(model.evidence.build->flash);
    if (key == shown_) return;
    shown_ = key;
    auto* layout = static_cast<QVBoxLayout*>(body_->layout());
    while (auto* item = layout->takeAt(0)) {
        delete item->widget();
        delete item;
    }
    layout->setContentsMargins(px(14), px(12), px(14), px(12));
    layout->setSpacing(px(8));
    const auto block = [&](const QColor& colour, const QStringList& lines, const QString& source) {
        auto* frame = new QWidget;
        frame->setObjectName("step");
        frame->setStyleSheet(QString("QWidget#step { border-left: %1px solid %2; }").arg(px(3)).arg(colour.name()));
        auto* inner = new QVBoxLayout(frame);
        inner->setContentsMargins(px(10), 0, 0, 0);
        inner->setSpacing(px(1));
        for (int i = 0; i < lines.size(); ++i) {
            auto* line = label(lines[i], i == 0 ? Text::Small : Text::Body, i == 0 ? c.soft : c.ink);
            line->setTextInteractionFlags(Qt::TextSelectableByMouse);
            inner->addWidget(line);
        }
        if (!source.isEmpty()) inner->addWidget(label(source, Text::Small, c.soft));
        layout->addWidget(frame);
    };
    if (stage == static_cast<int>(project::Stage::Routine)) {
        layout->addWidget(label(tr("Proof, over every reachable state"), Text::Small, c.soft));
        if (!model.plan.proofs) layout->addWidget(label(model.plan.program ? tr("Being worked out…") : tr("Waits for a complete routine."), Text::Body, c.ink));
        else
            for (const auto& proof : *model.plan.proofs) {
                if (proof.status == routine::ProofStatus::Violated) {
                    QStringList lines{text(proof.text)};
                    int n = 0;
                    for (const auto& event : proof.story) lines << QString("%1 · %2 s: %3").arg(++n).arg(event.tick / 1000.0, 0, 'f', 3).arg(text(event.event));
                    block(c.breaks, lines, tr("the shortest story; enforcement off"));
                } else {
                    block(c.hinge, {text(proof.text), proof.status == routine::ProofStatus::Proved ? tr("never") : tr("not within %1 states").arg(proof.states)}, tr("%1 states explored, enforcement off; also held at the output, last step before the pin").arg(proof.states));
                }
            }
        block(c.time, {tr("at its times of day"), tr("fires once")}, tr("on the tick at which the clock reaches it; a clock that is set past it does not fire"));
    }
    if (stage == static_cast<int>(project::Stage::Code)) {
        layout->addWidget(label(tr("Compiled"), Text::Small, c.soft));
        if (model.evidence.build && model.evidence.build->ok) {
            const auto& family_of = board::family(model.project.board.form);
            block(c.time, {tr("program in flash"), tr("%1 of %2 bytes").arg(model.evidence.build->flash).arg(family_of.flash)}, "avr-size");
            block(c.time, {tr("variables in RAM, before the stack"), tr("%1 of %2 bytes").arg(model.evidence.build->ram).arg(family_of.ram)}, "avr-size");
        } else if (model.evidence.build) {
            block(c.breaks, {tr("does not compile"), text(model.evidence.build->log.substr(0, 400))}, "avr-gcc");
        } else {
            layout->addWidget(label(model.evidence.compiler_missing ? tr("avr-gcc is not installed: the routine's interpreter stands in. Install gcc-avr, avr-libc and arduino-core-avr to compile.") : tr("Being compiled…"), Text::Body, c.ink));
        }
    }
    for (const auto* working : shown) {
        layout->addWidget(label(tr("Working: %1").arg(text(working->title)), Text::Small, c.soft));
        for (const auto& step : working->steps) {
            QStringList lines{text(step.meaning), text(step.symbol) + " = " + text(step.formula)};
            if (step.substituted != step.formula) lines << "= " + text(step.substituted);
            if (step.value) lines << "= " + text(display(step.kind, *step.value));
            block(family(step.kind), lines, text(step.source));
        }
    }
    if (shown.empty() && layout->count() == 0) layout->addWidget(label(tr("No sums behind this stage."), Text::Small, c.soft));
    layout->addStretch();
}

}  // namespace hinge::app
