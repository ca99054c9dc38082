// The window's menu, and what it writes.
#include <QDate>
#include <QDateTime>
#include <QFileDialog>
#include <QMenu>
#include <QMessageBox>
#include <QPushButton>
#include <QScrollArea>
#include <QSettings>
#include <QShortcut>
#include <QTemporaryDir>
#include <QTimer>
#include "files/folder.hpp"
#include "report/calendar.hpp"
#include "report/packet.hpp"
#include "shell/about.hpp"
#include "shell/find_panel.hpp"
#include "shell/findings_strip.hpp"
#include "shell/guide.hpp"
#include "shell/handbook.hpp"
#include "shell/main_window.hpp"
#include "shell/packet_paper.hpp"
#include "simulation/scene.hpp"
#include "stages/log/log_page.hpp"
#include "stages/pins/pins_page.hpp"
#include "store/bundle.hpp"
#include "theme/theme.hpp"

namespace hinge::app {

using project::Stage;

void MainWindow::askPacket() {
    const QString path =
        QFileDialog::getSaveFileName(this, tr("The packet: all that a stranger needs to build it"), document_->folder() + "/packet.pdf",
                                     tr("PDF (*.pdf);;HTML (*.html);;everything in one zip (*.zip)"));
    if (!path.isEmpty()) savePacket(path);
}

void MainWindow::savePacket(const QString& path) {
    const auto& model = document_->model();
    auto packet = report::packetOf(model.project, model.parts, model.evidence, QDate::currentDate().toString(Qt::ISODate).toStdString());
    for (const auto& name : report::photosOf(model.project))
        if (auto bytes = store::readPhoto(document_->folder().toStdString(), name)) packet.photos[name] = std::move(*bytes);
    Result<void> written;
    if (path.endsWith(".pdf", Qt::CaseInsensitive)) {
        written = printPacket(packet, path);
    } else if (path.endsWith(".html", Qt::CaseInsensitive)) {
        written = files::writeWhole(path.toStdString(), report::packetHtml(packet));
    } else {
        store::Document document;
        document.project = model.project;
        std::vector<store::BundleFile> files;
        for (auto& file : report::packetFiles(
                 packet, store::toText(document),
                 model.scene && model.plan.program
                     ? simulation::sceneVcd(*model.scene, model.scene_supply ? &*model.scene_supply : nullptr, *model.plan.program)
                     : std::string{}))
            files.push_back({std::move(file.path), std::move(file.bytes)});
        // The page for paper goes with the rest.
        QTemporaryDir beside;
        if (const auto pdf = (beside.path() + "/packet.pdf"); printPacket(packet, pdf))
            if (auto bytes = files::readWhole(pdf.toStdString())) files.push_back({"packet.pdf", std::move(*bytes)});
        written = path.endsWith(".zip", Qt::CaseInsensitive) ? store::writeZip(files, path.toStdString())
                                                             : store::writeFolder(files, path.toStdString());
    }
    say(written ? tr("The packet is in %1.").arg(path) : words(written.error()));
}

QAction* MainWindow::offer(const QString& name, const QKeySequence& keys, std::function<void()> does) {
    auto* made = list_->addAction(name);
    made->setShortcut(keys);
    connect(made, &QAction::triggered, this, std::move(does));
    addAction(made);
    return made;
}

void MainWindow::saveCalendar() {
    const auto today = QDate::currentDate();
    const auto calendar = report::calendarOf(document_->model().project, {today.year(), today.month(), today.day()},
                                             QDateTime::currentDateTimeUtc().toString("yyyyMMddTHHmmss").toStdString() + "Z");
    if (calendar.empty()) return say(tr("Nothing is scheduled: no cue starts at a time of day, and no care is decided."));
    const QString path = QFileDialog::getSaveFileName(this, tr("The schedule, for a calendar"), document_->folder() + "/schedule.ics",
                                                      tr("Calendar (*.ics)"));
    if (path.isEmpty()) return;
    const auto written = files::writeWhole(path.toStdString(), calendar);
    say(written ? tr("The schedule is in %1.").arg(path) : words(written.error()));
}

void MainWindow::offerFiles() {
    offer(tr("New gadget"), QKeySequence::New, [this] {
        if (document_->dirty() &&
            QMessageBox::question(this, tr("Unsaved changes"),
                                  tr("This gadget has changes that are not saved. Start a new one and lose them?")) != QMessageBox::Yes)
            return;
        document_->newGadget();
        showCrossbar();
    });
    offer(tr("Open…"), QKeySequence::Open, [this] {
        const QString folder = QFileDialog::getExistingDirectory(this, tr("Open a project folder"));
        if (!folder.isEmpty()) openFolder(folder);
    });
    auto* recent = list_->addMenu(tr("Recent"));
    connect(recent, &QMenu::aboutToShow, this, [this, recent] {
        recent->clear();
        for (const QString& folder : QSettings().value("recent").toStringList())
            recent->addAction(folder, this, [this, folder] { openFolder(folder); });
    });
    offer(tr("Save"), QKeySequence::Save, [this] { save(false); });
    offer(tr("Save as…"), QKeySequence::SaveAs, [this] { save(true); });
    offer(tr("The schedule, as a calendar…"), QKeySequence(), [this] { saveCalendar(); });
    offer(tr("The packet, to print or to hand on…"), QKeySequence::Print, [this] { askPacket(); });
}

void MainWindow::offerLooks() {
    offer(tr("Fold the working"), QKeySequence("Ctrl+Shift+W"), [this] {
        workingFolded_ = !workingFolded_;
        layoutEdges();
    });
    offer(tr("Fold the findings"), QKeySequence("Ctrl+Shift+F"), [this] {
        findingsFolded_ = !findingsFolded_;
        findings_->fold(findingsFolded_);
    });
    offer(tr("Light or dark"), QKeySequence("Ctrl+L"), [this] {
        useDark(!isDark());
        applyTheme();
    });
    offer(tr("Larger text"), QKeySequence::ZoomIn, [this] {
        setScale(std::min(2.0, scale() * 1.1));
        applyTheme();
    });
    offer(tr("Smaller text"), QKeySequence::ZoomOut, [this] {
        setScale(std::max(0.8, scale() / 1.1));
        applyTheme();
    });
}

// Where a thing stands that was found.
void MainWindow::goTo(const report::Hit& hit) {
    using report::Found;
    const QString channel = text(hit.channel);
    switch (hit.what) {
        case Found::Part: showParts(); return;
        case Found::Wire:
            go(channel_, static_cast<int>(Stage::Pins));
            pins_->showView(PinsPage::View::Wires);
            pins_->choose(text(hit.path));
            return;
        case Found::Journal:
            go(channel, static_cast<int>(Stage::Log));
            log_->showView(LogPage::View::Journal);
            return;
        default: break;
    }
    go(channel.isEmpty() && hit.what != Found::Fact ? channel_ : channel, static_cast<int>(hit.stage));
    if (hit.what != Found::Fact) return;
    // Once the page is laid out.
    QTimer::singleShot(0, this, [this, path = text(hit.path)] {
        auto* field = findChild<QWidget*>(path);
        if (field == nullptr) return;
        field->setFocus();
        for (auto* at = field->parentWidget(); at != nullptr; at = at->parentWidget())
            if (auto* area = qobject_cast<QScrollArea*>(at)) area->ensureWidgetVisible(field);
    });
}

void MainWindow::makeMenu() {
    list_ = new QMenu(this);
    find_ = new FindPanel(document_, this);
    connect(find_, &FindPanel::wanted, this, &MainWindow::goTo);
    offerFiles();
    list_->addSeparator();
    offer(tr("Add a channel"), QKeySequence("Ctrl+K"), [this] { askWhatMoves(); });
    offer(tr("Parts"), QKeySequence("Ctrl+Shift+P"), [this] { showParts(); });
    offer(tr("The brief"), QKeySequence("Ctrl+B"), [this] { go({}, static_cast<int>(Stage::Need)); });
    offer(tr("Find…"), QKeySequence::Find, [this] { find_->ask(list_->actions()); });
    list_->addSeparator();
    offer(tr("Undo"), QKeySequence::Undo, [this] { document_->undo(); });
    offer(tr("Redo"), QKeySequence::Redo, [this] { document_->redo(); });
    list_->addSeparator();
    offerLooks();
    list_->addSeparator();
    offer(tr("Guide through the demo"), QKeySequence(), [this] { guide_->start(); });
    offer(tr("Handbook"), QKeySequence(Qt::Key_F1), [this] { handbook()->openAt(stage_); });
    offer(tr("Keys"), QKeySequence(), [this] {
        handbook()->openAt(stage_);
        handbook()->openPage("keys");
    });
    offer(tr("About Hinge Spark"), QKeySequence(), [this] {
        auto* about = new About(this);
        about->setAttribute(Qt::WA_DeleteOnClose);
        about->show();
    });
    offer(tr("Quit"), QKeySequence::Quit, [this] { close(); })->setShortcuts({QKeySequence::Quit, QKeySequence("Ctrl+W")});
    connect(menu_, &QPushButton::clicked, this, [this] { list_->popup(menu_->mapToGlobal(QPoint(0, menu_->height()))); });
    const auto key = [this](const char* keys, auto slot) {
        connect(new QShortcut(QKeySequence(keys), this), &QShortcut::activated, this, slot);
    };
    key("Alt+Left", [this] { walk(-1, 0); });
    key("Alt+Right", [this] { walk(1, 0); });
    key("Alt+Up", [this] { walk(0, -1); });
    key("Alt+Down", [this] { walk(0, 1); });
}

Handbook* MainWindow::handbook() {
    if (handbook_ == nullptr) handbook_ = new Handbook(list_->actions(), this);
    return handbook_;
}

}  // namespace hinge::app
