#include "parts/parts_window.hpp"
#include <QComboBox>
#include <QFileDialog>
#include <QHeaderView>
#include <QLabel>
#include <QPlainTextEdit>
#include <QPushButton>
#include <QTableWidget>
#include <QVBoxLayout>
#include "match/explain.hpp"
#include "store/document.hpp"
#include "theme/theme.hpp"

namespace hinge::app {
namespace {

constexpr int name_column = 0, standing_column = 1, drawer_column = 2, figures_column = 3;

}  // namespace

PartsWindow::PartsWindow(Document* document, QWidget* parent) : QDialog(parent), document_(document) {
    setObjectName("partsWindow");
    setWindowTitle(tr("Parts"));
    resize(px(940), px(640));
    auto* column = new QVBoxLayout(this);
    auto* top = new QHBoxLayout;
    kinds_ = new QComboBox;
    kinds_->setObjectName("partsKind");
    for (const auto& kind : catalogue::kinds()) kinds_->addItem(tr(kind.label.c_str()), text(kind.name));
    auto* import = new QPushButton(tr("Read a CSV…"));
    import->setObjectName("partsImport");
    top->addWidget(kinds_);
    top->addStretch();
    top->addWidget(import);
    table_ = new QTableWidget;
    table_->setObjectName("partsTable");
    table_->setColumnCount(4);
    table_->setHorizontalHeaderLabels({tr("part"), tr("sample"), tr("in the drawer"), tr("figures")});
    table_->verticalHeader()->hide();
    table_->setEditTriggers(QAbstractItemView::NoEditTriggers);
    table_->setSelectionBehavior(QAbstractItemView::SelectRows);
    table_->setShowGrid(false);
    auto* hint =
        new QLabel(tr("A double click on a sample or drawer cell changes it. To add a part: one figure after another with ; between, as "
                      "its data sheet says them. Leave out what it does not say; it stays unknown."));
    hint->setWordWrap(true);
    paste_ = new QPlainTextEdit;
    paste_->setObjectName("partsPaste");
    paste_->setFixedHeight(px(92));
    auto* row = new QHBoxLayout;
    auto* add_button = new QPushButton(tr("Add this part"));
    add_button->setObjectName("partsAdd");
    add_button->setProperty("main", true);
    save_ = new QPushButton(tr("Save what was left out…"));
    save_->setObjectName("partsSaveProblems");
    said_ = new QLabel;
    said_->setObjectName("partsSaid");
    said_->setWordWrap(true);
    row->addWidget(said_, 1);
    row->addWidget(save_);
    row->addWidget(add_button);
    column->addLayout(top);
    column->addWidget(table_, 1);
    column->addWidget(hint);
    column->addWidget(paste_);
    column->addLayout(row);
    connect(kinds_, &QComboBox::currentIndexChanged, this, [this] { fillTable(); });
    connect(import, &QPushButton::clicked, this, [this] {
        const QString path = QFileDialog::getOpenFileName(this, tr("Read parts of this kind"), {}, tr("CSV (*.csv)"));
        if (!path.isEmpty()) importFile(path);
    });
    connect(add_button, &QPushButton::clicked, this, [this] {
        if (add(kind(), paste_->toPlainText()).isEmpty()) paste_->clear();
    });
    connect(save_, &QPushButton::clicked, this, &PartsWindow::saveProblems);
    connect(table_, &QTableWidget::cellDoubleClicked, this, [this](int at, int where) {
        // A double click walks through what a mark can be.
        if (where == drawer_column) mark(at, "drawer", table_->item(at, where)->text() == tr("yes") ? "no" : "yes");
        if (where == standing_column) {
            const QString now = table_->item(at, where)->data(Qt::UserRole).toString();
            mark(at, "standing", now == "untested" ? "tested" : now == "tested" ? "suspect" : "untested");
        }
    });
    present();
}

QString PartsWindow::kind() const {
    return kinds_->currentData().toString();
}

void PartsWindow::present() {
    const auto& c = colours();
    setStyleSheet(QString("QDialog#partsWindow { background-color: %1; }").arg(c.paper.name()));
    fillTable();
    showProblems();
}

void PartsWindow::fillTable() {
    filling_ = true;
    const auto& parts = document_->model().parts;
    const std::string wanted = kind().toStdString();
    ids_.clear();
    table_->setRowCount(0);
    QStringList example;
    const auto add_row = [&](const actuator::PartHead& head, const std::vector<match::PartFigure>& figures) {
        const int row = table_->rowCount();
        table_->insertRow(row);
        ids_.push_back(head.id);
        auto* standing = new QTableWidgetItem(tr(labelOf(head.standing)));
        standing->setData(Qt::UserRole, nameOf(head.standing));
        standing->setForeground(head.standing == actuator::Standing::Suspect ? colours().tight : colours().ink);
        QStringList words;
        for (const auto& figure : figures)
            if (figure.name != "kind" && figure.name != "price") words << text(figure.name) + " " + text(figure.value);
        table_->setItem(row, name_column, new QTableWidgetItem(text(head.name)));
        table_->setItem(row, standing_column, standing);
        table_->setItem(row, drawer_column, new QTableWidgetItem(head.drawer ? tr("yes") : tr("no")));
        auto* all = new QTableWidgetItem(words.join(" · "));
        all->setToolTip(words.join("\n"));
        table_->setItem(row, figures_column, all);
    };
    for (const auto& part : parts.actuators)
        if (catalogue::kindOfPart(parts, actuator::head(part).id) == wanted) add_row(actuator::head(part), match::figuresOf(part));
    if (wanted == "drivers")
        for (const auto& driver : parts.drivers) add_row(driver, match::figuresOf(driver));
    table_->setColumnWidth(name_column, px(290));
    table_->setColumnWidth(standing_column, px(130));
    table_->setColumnWidth(drawer_column, px(100));
    table_->horizontalHeader()->setStretchLastSection(true);
    for (const auto& each : catalogue::kinds())
        if (each.name == wanted)
            for (const auto& name : each.columns) {
                if (name == "id") continue;
                QString plain = text(name);
                example << plain.replace('_', ' ') + ":";
            }
    paste_->setPlaceholderText(example.join("  "));
    filling_ = false;
}

QString PartsWindow::add(const QString& of_kind, const QString& words_of) {
    auto loaded = catalogue::fromLine(of_kind.toStdString(), words_of.toStdString());
    QString why;
    if (!loaded) {
        why = words(loaded.error());
    } else if (loaded->parts.actuators.empty() && loaded->parts.drivers.empty()) {
        const auto& p = loaded->problems.front();
        why = tr("%1 '%2': %3.").arg(text(p.column), text(p.value), text(p.why));
    } else {
        const QString left = loaded->problems.empty() ? QString() : tr(" Left out: %1.").arg(text(loaded->problems.front().column));
        why = document_->addParts(of_kind.toStdString(), std::move(*loaded));
        if (why.isEmpty()) said_->setText(tr("Added; it is ranked from now on.") + left);
    }
    if (!why.isEmpty()) said_->setText(why);
    fillTable();
    return why;
}

QString PartsWindow::importFile(const QString& path) {
    const auto csv = files::readWhole(path.toStdString());
    if (!csv) {
        said_->setText(words(csv.error()));
        return said_->text();
    }
    auto loaded = catalogue::read(kind().toStdString(), *csv, path.toStdString());
    if (!loaded) {
        said_->setText(words(loaded.error()));
        return said_->text();
    }
    problems_ = loaded->problems;
    const auto count = loaded->parts.actuators.size() + loaded->parts.drivers.size();
    const QString why = document_->addParts(kind().toStdString(), std::move(*loaded));
    fillTable();
    showProblems();
    if (!why.isEmpty()) said_->setText(why);
    else said_->setText(tr("%1 parts read, %2 rows left out.").arg(count).arg(problems_.size()));
    return why;
}

void PartsWindow::mark(int row, const QString& field, const QString& value) {
    if (filling_ || row < 0 || row >= static_cast<int>(ids_.size())) return;
    const QString why = document_->markPart(ids_[static_cast<std::size_t>(row)], field.toStdString(), value.toStdString());
    if (!why.isEmpty()) said_->setText(why);
    fillTable();
}

void PartsWindow::showProblems() {
    save_->setVisible(!problems_.empty());
}

void PartsWindow::saveProblems() {
    const QString path = QFileDialog::getSaveFileName(this, tr("Save what was left out"), "left-out.csv", tr("CSV (*.csv)"));
    if (path.isEmpty()) return;
    if (const auto written = files::writeWhole(path.toStdString(), catalogue::problemTable(problems_)); !written)
        said_->setText(words(written.error()));
}

}  // namespace hinge::app
