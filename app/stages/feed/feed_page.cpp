#include "stages/feed/feed_page.hpp"
#include <QComboBox>
#include <QHBoxLayout>
#include <QLabel>
#include <QMenu>
#include <QPushButton>
#include <QStackedWidget>
#include <QVBoxLayout>
#include <algorithm>
#include "plan/feed.hpp"
#include "theme/theme.hpp"

namespace hinge::app {
namespace {

constexpr int plans_drawn = 10'000;
constexpr double a_day = 86'400.0;

}  // namespace

FeedPage::FeedPage(Document* document, QWidget* parent) : QWidget(parent), document_(document) {
    setObjectName("feed");
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(px(14), px(4), px(12), px(4));
    auto* top = new QHBoxLayout;
    const std::pair<const char*, QString> views[] = {
        {"feedTree", tr("The tree")}, {"feedScene", tr("The scene")}, {"feedWorst", tr("Worst together")}, {"feedDay", tr("A whole day")}};
    for (std::size_t i = 0; i < std::size(views); ++i) {
        auto* tab = new QPushButton(views[i].second);
        tab->setObjectName(views[i].first);
        tab->setCheckable(true);
        connect(tab, &QPushButton::clicked, this, [this, i] { showView(static_cast<View>(i)); });
        top->addWidget(tab);
        tabs_.push_back(tab);
    }
    top->addStretch(1);
    options_ = new QComboBox;
    options_->setObjectName("feedOption");
    options_->setToolTip(tr("What feeds it, and how full: every rail is judged under each."));
    connect(options_, &QComboBox::activated, this, [this] { play(); });
    top->addWidget(options_);
    column->addLayout(top);
    stack_ = new QStackedWidget;
    tree_ = new TreePicture(document_);
    tree_->setObjectName("feedTreePicture");
    chart_ = new SupplyChart(document_);
    chart_->setObjectName("supplyChart");
    stack_->addWidget(tree_);
    stack_->addWidget(chart_);
    column->addWidget(stack_, 1);
    cells_ = new QLabel;
    cells_->setObjectName("feedCells");
    cells_->setWordWrap(true);
    column->addWidget(cells_);
    chances_ = new QLabel;
    chances_->setObjectName("feedChances");
    chances_->setWordWrap(true);
    column->addWidget(chances_);
    connect(tree_, &TreePicture::pressed, this, &FeedPage::offer);
    poll_.setInterval(80);
    connect(&poll_, &QTimer::timeout, this, [this] {
        if (weighing_.valid() && weighing_.wait_for(std::chrono::seconds(0)) == std::future_status::ready) collect();
    });
    showView(View::Tree);
}

FeedPage::~FeedPage() {
    if (weighing_.valid()) weighing_.wait();
}

void FeedPage::present(const QString& channel) {
    channel_ = channel;
    tree_->present(channel);
    chart_->present(channel);
    const auto options = plan::supplyOptions(document_->model().project);
    const int at = std::max(0, options_->currentIndex());
    options_->clear();
    for (const auto& option : options) options_->addItem(option.words.empty() ? tr("as it is drawn") : text(option.words));
    options_->setCurrentIndex(std::min(at, options_->count() - 1));
    options_->setVisible(options.size() > 1);
    if (isVisible() || !(playedFor_ == document_->model().project)) play();
    say();
    weigh();
}

void FeedPage::applyTheme() {
    for (auto* label : {cells_, chances_}) label->setFont(textFont(Text::Body));
}

void FeedPage::showView(View view) {
    view_ = view;
    for (std::size_t i = 0; i < tabs_.size(); ++i) tabs_[i]->setChecked(static_cast<View>(i) == view);
    stack_->setCurrentIndex(view == View::Tree ? 0 : 1);
    options_->setEnabled(view != View::Tree);
    play();
}

void FeedPage::play() {
    const auto& model = document_->model();
    playedFor_ = model.project;
    const QString waits = tr("Nothing can be played yet: the supply's volts, a part and a rail for each channel, and a cue are needed.");
    if (!model.plan.program) return chart_->show(std::nullopt, 0.0, waits);
    const auto options = plan::supplyOptions(model.project);
    if (options.empty()) return chart_->show(std::nullopt, 0.0, waits);
    const auto option = options[static_cast<std::size_t>(std::clamp(options_->currentIndex(), 0, static_cast<int>(options.size()) - 1))];
    const auto tree = plan::supplyTree(plan::under(model.project, option), model.parts, model.plan);
    if (!tree) return chart_->show(std::nullopt, 0.0, waits);
    auto day = [&]() -> Result<simulation::SupplyDay> {
        switch (view_) {
            case View::Tree:
            case View::Scene:
                if (model.scene) return simulation::supplyOf(*model.scene, *tree);  // the very scene that Routine plays
                return simulation::supplyDay(*model.plan.program, *tree, model.script,
                                             simulation::sceneLength(*model.plan.program, model.script));
            case View::Worst: {
                // Where the board's rail falls too low, the instant that does it; else what draws most from the source.
                const bool low = std::any_of(model.plan.findings.begin(), model.plan.findings.end(), [](const auto& finding) {
                    return finding.id == "brown-out" || finding.id == "out-of-guaranteed-range";
                });
                return simulation::worstInstant(*model.plan.program, *tree, low ? std::max(0, tree->indexOf(model.project.board.rail)) : 0);
            }
            case View::Day: {
                simulation::Event set;
                set.clock = 0;
                return simulation::supplyDay(*model.plan.program, *tree, {set}, a_day);
            }
        }
        return fail(ErrorCode::Missing, "view", "", "");
    }();
    if (!day) return chart_->show(std::nullopt, 0.0, words(day.error()));
    chart_->show(std::move(*day), view_ == View::Worst ? 0.5 : 0.0, waits);
}

void FeedPage::say() {
    const auto& plan = document_->model().plan;
    cells_->setVisible(plan.battery.has_value());
    if (!plan.battery) return;
    const auto& b = *plan.battery;
    const QString share = text(display(b.idle_share, 2));
    cells_->setText(
        b.by_sag
            ? tr("The cells last %1 of your days, then sag too far with %2 still in them. %3 of the charge goes while nothing moves (%4).")
                  .arg(text(display(b.runtime, 2)), text(display(b.left, 2)), share, text(display(b.idle, 2)))
            : tr("The cells last %1 of your days; on average they give %2. %3 of the charge goes while nothing moves (%4). On a wall "
                 "adapter nothing would have to be charged.")
                  .arg(text(display(b.runtime, 2)), text(display(b.average, 2)), share, text(display(b.idle, 2))));
}

void FeedPage::weigh() {
    if (weighing_.valid() || (weighed_ && weighedFor_ == document_->model().project)) return;
    if (!document_->model().plan.program) {
        chances_->clear();
        return;
    }
    weighedFor_ = document_->model().project;
    weighing_ = std::async(std::launch::async,
                           [project = document_->model().project, parts = document_->model().parts, plan = document_->model().plan] {
                               return plan::tolerance(project, parts, plan, plans_drawn, 1, 2);
                           });
    poll_.start();
}

void FeedPage::settle() {
    if (!weighing_.valid()) return;
    weighing_.wait();
    collect();
}

void FeedPage::collect() {
    weighed_ = weighing_.get();
    poll_.stop();
    if (!(weighedFor_ == document_->model().project)) return weigh();
    if (!weighed_) {
        chances_->clear();
        return;
    }
    const auto& t = *weighed_;
    QStringList bad;
    const auto add = [&](double chance, const QString& what) {
        if (chance > 0.0) bad << tr("%1 in %2 plans").arg(what, tr("%1 of 100").arg(QString::number(100.0 * chance, 'g', 2)));
    };
    add(t.overload, tr("a part is asked for more than it may"));
    add(t.supply_over, tr("the supply is asked for more than it gives"));
    add(t.too_low, tr("the board's rail falls too low"));
    QString words = bad.isEmpty() ? tr("With every ± drawn at once, %1 times over, nothing breaks.").arg(t.plans)
                                  : tr("With every ± drawn at once, %1 times over: %2.").arg(QString::number(t.plans), bad.join("; "));
    if (!t.sentence.empty()) words += " " + text(t.sentence);
    chances_->setText(words);
}

// What a press on a source or rail offers; each choice is one undoable step.
void FeedPage::offer(const QString& id, const QPoint& where) {
    const auto& project = document_->model().project;
    QMenu menu(this);
    menu.setObjectName("feedMenu");
    if (const auto* source = project::findSource(project, id.toStdString())) offerSource(menu, *source);
    else if (const auto* rail = project::findRail(project, id.toStdString())) offerRail(menu, *rail);
    menu.exec(where);
}

void FeedPage::offerEdit(QMenu* into, const QString& words, std::vector<project::FactEdit> edits, bool now) {
    auto* action = into->addAction(words);
    action->setCheckable(true);
    action->setChecked(now);
    connect(action, &QAction::triggered, this, [this, edits = std::move(edits)] { document_->apply(edits); });
}

void FeedPage::offerChange(QMenu* into, const QString& words, bool possible, std::function<void(project::Project&)> change) {
    auto* action = into->addAction(words);
    action->setEnabled(possible);
    connect(action, &QAction::triggered, this, [this, change = std::move(change)] {
        auto changed = document_->model().project;
        change(changed);
        document_->replace(std::move(changed));
    });
}

// The ids of sources and rails, which share one list of names.
std::vector<std::string> FeedPage::taken() const {
    std::vector<std::string> ids;
    for (const auto& source : document_->model().project.sources) ids.push_back(source.id);
    for (const auto& rail : document_->model().project.rails) ids.push_back(rail.id);
    return ids;
}

void FeedPage::offerNewRail(QMenu& menu, const std::string& from) {
    auto* add = menu.addMenu(tr("Add a rail from here"));
    for (const auto& name : Names<power::Conversion>::all)
        offerChange(add, tr(name.label), true, [from, ids = taken(), conversion = name.value](project::Project& changed) {
            power::Rail rail;
            rail.name = "new rail";
            rail.id = project::freshId(rail.name, ids);
            rail.from = from;
            rail.conversion = conversion;
            if (conversion != power::Conversion::Direct) rail.voltage = of<Voltage>(5.0);
            changed.rails.push_back(rail);
        });
}

void FeedPage::offerSource(QMenu& menu, const power::Source& source) {
    const auto& project = document_->model().project;
    const std::string id = source.id;
    auto* kinds = menu.addMenu(tr("Kind of source"));
    for (const auto& name : Names<power::SourceKind>::all)
        offerEdit(kinds, tr(name.label), {{"sources/" + id + "/kind", name.id}}, source.kind == name.value);
    offerNewRail(menu, id);
    offerChange(&menu, tr("Add one to use instead"), true, [id, ids = taken()](project::Project& changed) {
        power::Source battery;
        battery.name = "battery";
        battery.id = project::freshId(battery.name, ids);
        battery.kind = power::SourceKind::Battery;
        battery.series = of<Count>(3.0);
        battery.instead_of = id;
        changed.sources.push_back(battery);
    });
    if (project.sources.size() < 2) return;
    const bool feeds = std::any_of(project.rails.begin(), project.rails.end(), [&](const power::Rail& r) { return r.from == id; });
    offerChange(&menu, feeds ? tr("Take it out (feed its rails from another first)") : tr("Take it out"), !feeds,
                [id](project::Project& changed) {
                    std::erase_if(changed.sources, [&](const power::Source& s) { return s.id == id; });
                    for (auto& s : changed.sources)
                        if (s.instead_of == id) s.instead_of.clear();
                });
}

void FeedPage::offerFeeds(QMenu& menu, const power::Rail& rail) {
    const auto& project = document_->model().project;
    const std::string path = "rails/" + rail.id + "/";
    auto* conversions = menu.addMenu(tr("Fed by"));
    for (const auto& name : Names<power::Conversion>::all) {
        std::vector<project::FactEdit> edits{{path + "conversion", name.id}};
        if (name.value != power::Conversion::Direct && !rail.voltage) edits.push_back({path + "voltage", "5 V"});
        offerEdit(conversions, tr(name.label), edits, rail.conversion == name.value);
    }
    auto* from = menu.addMenu(tr("From"));
    for (const auto& each : project.sources)
        if (each.instead_of.empty()) offerEdit(from, text(each.name), {{path + "from", each.id}}, rail.from == each.id);
    for (const auto& other : project.rails) {
        auto trial = project;
        for (auto& r : trial.rails)
            if (r.id == rail.id) r.from = other.id;
        if (other.id != rail.id && !plan::feedsItself(trial, rail.id))
            offerEdit(from, text(other.name), {{path + "from", other.id}}, rail.from == other.id);
    }
}

void FeedPage::offerRail(QMenu& menu, const power::Rail& rail) {
    const auto& project = document_->model().project;
    const std::string id = rail.id, path = "rails/" + id + "/";
    offerFeeds(menu, rail);
    auto* bulk = menu.addMenu(tr("Bulk capacitor"));
    offerEdit(bulk, tr("none"), {{path + "bulk", ""}}, !rail.bulk);
    for (const char* size : {"100 uF", "220 uF", "470 uF", "1000 uF", "2200 uF", "4700 uF"})
        offerEdit(bulk, QString(size).replace("uF", "µF"), {{path + "bulk", size}}, false);
    auto* guard = menu.addMenu(tr("Reversed supply"));
    for (const auto& name : Names<power::Protection>::all)
        offerEdit(guard, tr(name.label), {{path + "protection", name.id}}, rail.protection == name.value);
    offerNewRail(menu, id);
    const bool used =
        project.board.rail == id ||
        std::any_of(project.channels.begin(), project.channels.end(), [&](const project::Channel& c) { return c.rail == id; }) ||
        std::any_of(project.rails.begin(), project.rails.end(), [&](const power::Rail& r) { return r.from == id; });
    offerChange(&menu, used ? tr("Take it out (something still hangs on it)") : tr("Take it out"), !used,
                [id](project::Project& changed) { std::erase_if(changed.rails, [&](const power::Rail& r) { return r.id == id; }); });
}

}  // namespace hinge::app
