#include "stages/pins/pins_page.hpp"
#include <QComboBox>
#include <QDateTime>
#include <QHeaderView>
#include <QLabel>
#include <QMenu>
#include <QPainter>
#include <QPushButton>
#include <QScrollArea>
#include <QScrollBar>
#include <QSplitter>
#include <QStackedWidget>
#include <QTableWidget>
#include <QTimer>
#include <QVBoxLayout>
#include "plan/pin_plan.hpp"
#include "quantity/text.hpp"
#include "stages/pins/label_sheets.hpp"
#include "store/document.hpp"
#include "theme/theme.hpp"

namespace hinge::app {
namespace {

const QString expander_row = "expander:";  // before the id of its table, where a form of board has its own
constexpr int colour_column = 3, area_column = 4, length_column = 5, connector_column = 6;

QTableWidget* table(const QString& name, const QStringList& headings) {
    auto* made = new QTableWidget;
    made->setObjectName(name);
    made->setColumnCount(static_cast<int>(headings.size()));
    made->setHorizontalHeaderLabels(headings);
    made->horizontalHeader()->setDefaultAlignment(Qt::AlignLeft | Qt::AlignVCenter);
    made->horizontalHeader()->setHighlightSections(false);
    made->verticalHeader()->hide();
    made->setSelectionBehavior(QAbstractItemView::SelectRows);
    made->setSelectionMode(QAbstractItemView::SingleSelection);
    made->setShowGrid(false);
    made->setFrameShape(QFrame::NoFrame);
    return made;
}

// As wide as the page: no column is wider than a quarter of it, the last takes what is left, and what is longer goes on below.
void fit(QTableWidget* table) {
    table->setWordWrap(true);
    table->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    const int last = table->columnCount() - 1, most = std::max(px(110), table->viewport()->width() / 4);
    table->horizontalHeader()->setStretchLastSection(true);
    for (int column = 0; column < last; ++column) {
        table->resizeColumnToContents(column);
        table->setColumnWidth(column, std::min(table->columnWidth(column), most));
    }
    table->resizeRowsToContents();
}

QTableWidgetItem* cell(const QString& words, bool editable = false) {
    auto* item = new QTableWidgetItem(words);
    if (!editable) item->setFlags(item->flags() & ~Qt::ItemIsEditable);
    item->setToolTip(words);
    return item;
}

QIcon swatch(const QColor& colour) {
    QPixmap pixmap(px(14), px(14));
    pixmap.fill(Qt::transparent);
    QPainter p(&pixmap);
    p.setPen(QPen(colours().ink, 1));
    p.setBrush(colour);
    p.drawRect(1, 4, px(14) - 3, px(14) - 9);
    return QIcon(pixmap);
}

}  // namespace

PinsPage::PinsPage(Document* document, QWidget* parent) : QWidget(parent), document_(document) {
    setObjectName("pins");
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(px(14), px(4), px(14), 0);
    auto* top = new QHBoxLayout;
    const std::pair<const char*, QString> views[]{
        {"pinsBoard", tr("Board")}, {"pinsWires", tr("Wires")}, {"pinsBoards", tr("Other boards")}, {"pinsBuilds", tr("Ways to build")}};
    stack_ = new QStackedWidget;
    for (const auto& [name, words] : views) {
        auto* tab = new QPushButton(words);
        tab->setObjectName(name);
        tab->setCheckable(true);
        const auto view = static_cast<View>(tabs_.size());
        connect(tab, &QPushButton::clicked, this, [this, view] { showView(view); });
        top->addWidget(tab);
        tabs_.push_back(tab);
    }
    top->addStretch(1);
    column->addLayout(top);
    column->addWidget(stack_, 1);
    picture_ = new PinsPicture(document_);
    stack_->addWidget(picture_);

    stack_->addWidget(makeWires());
    stack_->addWidget(makeBoards());
    builds_ = table("buildTable",
                    {tr("way"), tr("wires"), tr("soldered"), tr("plugged"), tr("screwed"), tr("time"), tr("cost"), tr("to change a wire")});
    stack_->addWidget(builds_);
    showView(View::Board);
}

QWidget* PinsPage::makeWires() {
    auto* page = new QWidget;
    auto* column = new QVBoxLayout(page);
    column->setContentsMargins(0, 0, 0, 0);
    wires_ = table("wireTable", {tr("label"), tr("from"), tr("to"), tr("colour"), tr("copper"), tr("length"), tr("plug"), tr("note")});
    connect(wires_, &QTableWidget::cellChanged, this, &PinsPage::recordCell);
    connect(wires_, &QTableWidget::currentCellChanged, this, [this](int row, int, int was) {
        if (!filling_ && row != was) light(row), reveal(row);
    });
    drawn_ = new WiringPicture(document_);
    connect(drawn_, &WiringPicture::pointedAt, this, &PinsPage::light);
    connect(drawn_, &WiringPicture::pointedAt, this, [this] { following_ = false; });
    connect(drawn_, &WiringPicture::laid, this, &PinsPage::follow);
    connect(drawn_, &WiringPicture::chosen, this, [this](int wire) {
        if (since_->currentData().toString().isEmpty()) wires_->setCurrentCell(wire, 0);
    });
    sheet_ = new QScrollArea;
    sheet_->setObjectName("wiringSheet");
    sheet_->setWidget(drawn_);
    sheet_->setWidgetResizable(true);
    sheet_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    sheet_->setFrameShape(QFrame::NoFrame);
    auto* both = new QSplitter(Qt::Vertical);
    both->setObjectName("wiresSplit");
    both->addWidget(sheet_);
    both->addWidget(wires_);
    both->setStretchFactor(0, 3);
    both->setStretchFactor(1, 2);
    both->setSizes({600, 400});
    both->setChildrenCollapsible(false);
    auto* below = new QHBoxLayout;
    since_ = new QComboBox;
    since_->setObjectName("wiresSince");
    connect(since_, &QComboBox::currentIndexChanged, this, [this] {
        if (!filling_) fillWires();
    });
    const auto button = [&](const char* name, const QString& words, void (PinsPage::*does)()) {
        auto* made = new QPushButton(words);
        made->setObjectName(name);
        connect(made, &QPushButton::clicked, this, does);
        below->addWidget(made);
    };
    said_ = new QLabel;
    said_->setObjectName("wiresSaid");
    said_->setWordWrap(true);
    below->addWidget(since_);
    button("wiresKeep", tr("Keep as it is now"), &PinsPage::keepAsItIs);
    below->addStretch(1);
    button("wiresCsv", tr("Save as CSV…"), &PinsPage::saveCsv);
    auto* labels = new QPushButton(tr("Labels"));
    labels->setObjectName("wiresLabels");
    labels->setToolTip(tr("Two for each wire, on a sheet of self-adhesive labels"));
    auto* sheets = new QMenu(labels);
    for (std::size_t k = 0; k < labelSheets().size(); ++k)
        sheets->addAction(tr("A4 sheet, %1…").arg(QString::fromUtf8(labelSheets()[k].name)), this, [this, k] { saveLabels(k); });
    labels->setMenu(sheets);
    below->addWidget(labels);
    button("wiresPdf", tr("List and labels as PDF…"), &PinsPage::savePdf);
    column->addWidget(both, 1);
    column->addWidget(said_);
    column->addLayout(below);
    return page;
}

QWidget* PinsPage::makeBoards() {
    auto* page = new QWidget;
    auto* column = new QVBoxLayout(page);
    column->setContentsMargins(0, 0, 0, 0);
    boards_ = table("boardTable", {tr("board"), tr("fits"), tr("wires that move"), tr("pins left"), tr("what to know")});
    moves_ = new QLabel;
    moves_->setObjectName("boardMoves");
    moves_->setWordWrap(true);
    change_ = new QPushButton(tr("Change to this board"));
    change_->setObjectName("boardChange");
    change_->setProperty("main", true);
    connect(change_, &QPushButton::clicked, this, &PinsPage::changeBoard);
    connect(boards_, &QTableWidget::itemSelectionChanged, this, [this] {
        const int row = boards_->currentRow();
        change_->setEnabled(false);
        if (row < 0 || boards_->item(row, 0) == nullptr) return;
        moves_->setText(boards_->item(row, 2)->data(Qt::UserRole).toString());
        change_->setText(boards_->item(row, 0)->data(Qt::UserRole).toString().startsWith(expander_row) ? tr("Put them there")
                                                                                                       : tr("Change to this board"));
        change_->setEnabled(boards_->item(row, 1)->data(Qt::UserRole).toBool());
    });
    auto* below = new QHBoxLayout;
    below->addWidget(moves_, 1);
    below->addWidget(change_);
    column->addWidget(boards_, 1);
    column->addLayout(below);
    return page;
}

void PinsPage::showView(View view) {
    view_ = view;
    for (std::size_t i = 0; i < tabs_.size(); ++i) tabs_[i]->setChecked(i == static_cast<std::size_t>(view));
    stack_->setCurrentIndex(static_cast<int>(view));
    present(channel_);
    Q_EMIT viewShown();
}

void PinsPage::present(const QString& channel) {
    channel_ = channel;
    if (view_ == View::Board) picture_->present(channel);
    if (view_ == View::Wires) fillWires(), drawn_->redraw(), showCircuit();
    if (view_ == View::Boards) fillBoards();
    if (view_ == View::Builds) fillBuilds();
}

void PinsPage::resizeEvent(QResizeEvent* event) {
    QWidget::resizeEvent(event);
    for (auto* each : {wires_, boards_, builds_})
        if (each->isVisible()) fit(each);
}

void PinsPage::applyTheme() {
    const auto& c = colours();
    for (auto* each : {wires_, boards_, builds_}) {
        each->setFont(textFont(Text::Body));
        each->horizontalHeader()->setFont(textFont(Text::Small));
        each->setStyleSheet(QString("QTableWidget { background-color: %1; alternate-background-color: %1; } QHeaderView::section { "
                                    "background-color: %1; color: %2; border: 0; border-bottom: 1px solid %3; padding: 4px 6px 4px 3px; } "
                                    "QTableWidget::item { padding: 2px 6px 2px 3px; }"
                                    "QTableWidget::item:selected { background-color: %4; color: %5; padding: 2px 6px 2px 3px; border: 0; }")
                                .arg(c.card.name(), c.soft.name(), c.line.name(), c.sparkTint.name(), c.ink.name()));
        each->verticalHeader()->setDefaultSectionSize(px(26));
    }
    present(channel_);
}

void PinsPage::fillWires() {
    filling_ = true;
    const auto& model = document_->model();
    rows_ = plan::wireRows(model.project, model.wires);
    const QString chosen = since_->currentData().toString();
    since_->clear();
    since_->addItem(tr("all wires"), "");
    for (const auto& snapshot : model.project.journal.snapshots)
        since_->addItem(tr("what changed since %1").arg(text(snapshot.name.empty() ? snapshot.date : snapshot.name)), text(snapshot.id));
    since_->setCurrentIndex(std::max(0, since_->findData(chosen)));
    const auto& c = colours();
    const auto* past = [&]() -> const journal::WiringSnapshot* {
        for (const auto& snapshot : model.project.journal.snapshots)
            if (text(snapshot.id) == since_->currentData().toString()) return &snapshot;
        return nullptr;
    }();
    const auto changes = past != nullptr ? plan::wiringDifference(past->wires, model.wires) : std::vector<plan::WireChange>{};
    wires_->setRowCount(0);
    if (past != nullptr) {
        for (const auto& change : changes) {
            const int row = wires_->rowCount();
            wires_->insertRow(row);
            const auto& shown = change.fate == plan::WireFate::Removed ? change.before : change.now;
            const QString words[]{tr(labelOf(change.fate)),
                                  text(shown.from),
                                  text(shown.to),
                                  {},
                                  {},
                                  {},
                                  {},
                                  change.fate == plan::WireFate::Moved ? tr("was on %1").arg(text(change.before.from)) : text(shown.note)};
            for (int i = 0; i < 8; ++i) wires_->setItem(row, i, cell(words[i]));
            wires_->item(row, 0)->setForeground(change.fate == plan::WireFate::Removed ? c.breaks : c.time);
        }
        said_->setText(changes.empty() ? tr("Nothing is wired otherwise than then.")
                                       : tr("%1 wires differ from %2.").arg(changes.size()).arg(text(past->date).replace('T', ' ')));
    } else {
        const auto* found = project::findChannel(model.project, channel_.toStdString());
        const QString name = found != nullptr ? text(found->name) : QString();
        for (const auto& each : rows_) {
            const int row = wires_->rowCount();
            wires_->insertRow(row);
            wires_->setItem(row, 0, cell(text(each.label)));
            wires_->setItem(row, 1, cell(text(each.wire.from)));
            wires_->setItem(row, 2, cell(text(each.wire.to)));
            auto* colour = cell(text(each.colour), true);
            if (const auto seen = plan::sleeveColour(each.colour)) colour->setIcon(swatch(QColor::fromRgb(*seen)));
            if (!each.colour_recorded) {
                colour->setForeground(c.soft);
                colour->setToolTip(tr("Proposed. Write the colour that you used, and it is recorded."));
            }
            wires_->setItem(row, colour_column, colour);
            wires_->setItem(row, area_column, cell(each.area ? text(displayPlain(*each.area)) : QString(), true));
            wires_->setItem(row, length_column, cell(each.length ? text(displayPlain(*each.length)) : QString(), true));
            wires_->setItem(row, connector_column, cell(text(each.connector), true));
            wires_->setItem(row, 7, cell(text(each.wire.note)));
            const bool mine = !name.isEmpty() && text(each.wire.to).startsWith(name + " ");
            if (mine)
                for (int i = 0; i < 3; ++i) {
                    QFont bold = wires_->font();
                    bold.setBold(true);
                    wires_->item(row, i)->setFont(bold);
                }
        }
        said_->setText(tr("Write into colour, copper, length or plug what you really used."));
    }
    fit(wires_);
    // What is lit up stays so.
    if (past == nullptr && drawn_->lit() >= 0 && drawn_->lit() < wires_->rowCount()) wires_->setCurrentCell(drawn_->lit(), 0);
    filling_ = false;
}

void PinsPage::choose(const QString& label) {
    for (std::size_t row = 0; row < rows_.size(); ++row)
        if (text(rows_[row].label) == label) wires_->setCurrentCell(static_cast<int>(row), 0);
}

void PinsPage::light(int row) {
    const bool now = since_->currentData().toString().isEmpty();
    const bool known = now && row >= 0 && static_cast<std::size_t>(row) < rows_.size();
    drawn_->light(known ? row : drawing::no_wire);
    Q_EMIT lit(drawn_->lit());
    picture_->light(known ? std::optional{rows_[static_cast<std::size_t>(row)]} : std::nullopt);
    if (!known) return;
    const auto& it = rows_[static_cast<std::size_t>(row)];
    said_->setText(tr("%1: %2 to %3%4")
                       .arg(text(drawing::markOf(it)), text(it.wire.from), text(it.wire.to),
                            it.wire.note.empty() ? QString(".") : "; " + text(it.wire.note) + "."));
}

void PinsPage::reveal(int row) {
    following_ = false;
    const auto place = drawn_->placeOf(row), circuit = drawn_->circuitWith(row);
    auto* bar = sheet_->verticalScrollBar();
    const double top = bar->value(), bottom = top + sheet_->viewport()->height();
    if (row < 0 || !place.isValid() || (place.top() >= top && place.bottom() <= bottom)) return;
    // Its whole circuit where that fits, else the wire.
    if (circuit.height() < bottom - top || place.bottom() < circuit.top() + bottom - top)
        bar->setValue(static_cast<int>(circuit.top()) - px(6));
    else sheet_->ensureVisible(static_cast<int>(place.center().x()), static_cast<int>(place.center().y()), px(60), px(70));
}

// The chosen channel's circuit at the top.
void PinsPage::showCircuit() {
    if (channel_ == shown_) return;
    shown_ = channel_;
    following_ = true;
    follow();
}

// Until somebody looks elsewhere it stays there, however the page is laid out.
void PinsPage::follow() {
    if (!following_ && drawn_->lit() >= 0) QTimer::singleShot(0, this, [this] { reveal(drawn_->lit()); });
    if (!following_) return;
    QTimer::singleShot(0, this, [this] {
        if (const auto place = drawn_->circuitOf(channel_); place.isValid() && following_)
            sheet_->verticalScrollBar()->setValue(static_cast<int>(place.top()) - px(6));
    });
}

void PinsPage::recordCell(int row, int column) {
    if (filling_ || row < 0 || static_cast<std::size_t>(row) >= rows_.size() || !since_->currentData().toString().isEmpty()) return;
    static const std::map<int, const char*> fields{
        {colour_column, "colour"}, {area_column, "area"}, {length_column, "length"}, {connector_column, "connector"}};
    const auto field = fields.find(column);
    if (field == fields.end()) return;
    auto changed = plan::recordWire(document_->model().project, rows_[static_cast<std::size_t>(row)].wire, field->second,
                                    wires_->item(row, column)->text().trimmed().toStdString());
    if (changed) document_->replace(std::move(*changed));
    else {
        fillWires();  // the last good value stays
        said_->setText(words(changed.error()));
    }
}

void PinsPage::keepAsItIs() {
    const QString now = QDateTime::currentDateTime().toString("yyyy-MM-ddTHH:mm");
    document_->replace(plan::keepSnapshot(document_->model().project, document_->model().wires,
                                          QDateTime::currentDateTime().toString("d MMM, HH:mm").toStdString(), now.toStdString()));
    said_->setText(tr("Kept. After a rebuild, choose it on the left to see every wire that differs."));
}

void PinsPage::fillBoards() {
    const auto& model = document_->model();
    boards_->setRowCount(0);
    int chosen = 0;
    for (const auto& form : Names<board::BoardForm>::all) {
        const auto choice = plan::onBoard(model.project, model.plan, form.value);
        const int row = boards_->rowCount();
        const bool here = form.value == model.project.board.form;
        if (here) chosen = row;
        boards_->insertRow(row);
        boards_->setItem(row, 0, cell(tr(form.label) + (here ? tr(" · chosen") : QString())));
        boards_->item(row, 0)->setData(Qt::UserRole, text(form.id));
        boards_->setItem(row, 1, cell(choice.fits ? tr("yes") : tr("no")));
        boards_->item(row, 1)->setData(Qt::UserRole, choice.fits && !here);
        boards_->item(row, 1)->setForeground(choice.fits ? colours().ink : colours().breaks);
        boards_->setItem(row, 2, cell(choice.fits ? QString::number(choice.moves.size()) : QString()));
        QStringList each;
        for (const auto& move : choice.moves)
            each << (move.from.empty() ? tr("%1 on %2").arg(text(move.name), text(move.to))
                                       : tr("%1 from %2 to %3").arg(text(move.name), text(move.from), text(move.to)));
        boards_->item(row, 2)->setData(Qt::UserRole,
                                       choice.fits ? each.isEmpty() ? tr("No wire moves.") : each.join(", ") + "." : text(choice.why));
        boards_->setItem(row, 3, cell(choice.fits ? QString::number(choice.spare) : QString()));
        boards_->setItem(row, 4, cell(text(choice.why)));
    }
    for (const auto& choice : plan::withExpanders(model.project, model.plan)) {
        const int row = boards_->rowCount();
        QStringList takes, bus;
        for (const auto& name : choice.takes) takes << text(name);
        for (const auto& pin : choice.bus) bus << text(pin);
        boards_->insertRow(row);
        boards_->setItem(row, 0, cell(tr("this one, and a %1").arg(text(choice.name))));
        boards_->item(row, 0)->setData(Qt::UserRole, expander_row + text(choice.map->id));
        boards_->setItem(row, 1, cell(choice.fits ? tr("yes") : tr("no")));
        boards_->item(row, 1)->setData(Qt::UserRole, !plan::editsFor(choice, model.parts).empty());
        boards_->item(row, 1)->setForeground(choice.fits ? colours().ink : colours().breaks);
        boards_->setItem(row, 2, cell(QString::number(choice.takes.size())));
        boards_->item(row, 2)->setData(Qt::UserRole,
                                       tr("It takes %1; its bus sits on %2.")
                                           .arg(takes.join(", "), bus.isEmpty() ? tr("no pin that is free") : bus.join(tr(" and "))));
        boards_->setItem(row, 3, cell(QString::number(choice.spare)));
        boards_->setItem(row, 4, cell(text(choice.note)));
    }
    fit(boards_);
    boards_->selectRow(chosen);
}

void PinsPage::changeBoard() {
    const int row = boards_->currentRow();
    if (row < 0) return;
    const QString what = boards_->item(row, 0)->data(Qt::UserRole).toString();
    if (what.startsWith(expander_row)) {
        const auto& model = document_->model();
        for (const auto& choice : plan::withExpanders(model.project, model.plan))
            if (text(choice.map->id) == what.mid(expander_row.size())) document_->apply(plan::editsFor(choice, model.parts));
        return;
    }
    const auto form = named<board::BoardForm>(what.toStdString());
    if (!form) return;
    const auto choice = plan::onBoard(document_->model().project, document_->model().plan, *form);
    if (choice.fits) document_->apply(plan::editsFor(choice));
}

void PinsPage::fillBuilds() {
    const auto& model = document_->model();
    builds_->setRowCount(0);
    for (const auto& effort : plan::buildStyles(model.wires)) {
        const int row = builds_->rowCount();
        builds_->insertRow(row);
        const bool here = effort.style == model.project.brief.build_style;
        const QString words[]{tr(labelOf(effort.style)) + (here ? tr(" · chosen") : QString()),
                              QString::number(effort.wires),
                              QString::number(effort.soldered),
                              QString::number(effort.plugged),
                              QString::number(effort.screwed),
                              text(display(effort.time, 2)),
                              text(model.project.brief.currency) + " " + QString::number(si(effort.cost), 'f', 0),
                              tr(effort.repair.c_str())};
        for (int i = 0; i < 8; ++i) builds_->setItem(row, i, cell(words[i]));
        if (here) builds_->selectRow(row);
    }
    fit(builds_);
}

}  // namespace hinge::app
