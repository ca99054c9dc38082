#include "shell/main_window.hpp"
#include "stages/tune/tune_page.hpp"
#include "theme/theme.hpp"
#include <QApplication>
#include <QCommandLineParser>
#include <QDir>
#include <QElapsedTimer>
#include <QPalette>
#include <QTextStream>
#include <QTimer>

namespace {

using namespace hinge::app;

void wait(int milliseconds) {
    QEventLoop loop;
    QTimer::singleShot(milliseconds, &loop, &QEventLoop::quit);
    loop.exec();
}

// Every main view, 1280×800, from the open project.
int shots(MainWindow& window, Document& document, const QString& folder, bool all) {
    QDir().mkpath(folder);
    window.resize(1280, 800);
    window.show();
    document.settle();
    int failed = 0;
    const auto shoot = [&](const QString& name) {
        wait(120);
        if (!window.grab().save(folder + "/" + name + ".png")) ++failed;
    };
    const QString channel = document.model().project.channels.empty() ? QString() : text(document.model().project.channels.front().id);
    window.showCrossbar();
    shoot("0-crossbar");
    for (int stage = 0; stage < hinge::project::stageCount; ++stage) {
        window.go(channel, stage);
        if (stage == static_cast<int>(hinge::project::Stage::Tune)) {
            // The stand-in for real: press start, let go, let the dose run.
            window.tune()->startStandIn();
            for (int i = 0; i < 100 && !window.tune()->connected(); ++i) wait(50);
            wait(1200);
            if (auto* board = window.tune()->board()) {
                board->setInput(0, true);
                wait(200);
                board->setInput(0, false);
                wait(4600);
            }
        }
        shoot(QString("%1-%2").arg(stage + 1).arg(hinge::nameOf(static_cast<hinge::project::Stage>(stage))));
    }
    if (all) {
        window.go({}, 0);
        shoot("brief");
        document.apply(hinge::project::FactEdit{"channels/" + channel.toStdString() + "/drive/part", "mosfet_ordinary_55v"});
        document.settle();
        window.go(channel, 1);
        shoot("match-breaks");
        window.showCrossbar();
        shoot("crossbar-breaks");
        document.undo();
        document.apply(hinge::project::FactEdit{"routine/cues/storm/guards/dry/throughout", "no"});
        document.settle();
        window.go(channel, 5);
        shoot("routine-violated");
        document.undo();
        useDark(true);
        window.applyTheme();
        document.settle();
        window.showCrossbar();
        shoot("crossbar-dark");
        window.go(channel, 1);
        shoot("match-dark");
        useDark(false);
        setScale(1.5);
        window.applyTheme();
        window.resize(1100, 700);
        window.showCrossbar();
        shoot("crossbar-large-text");
        window.go(channel, 2);
        shoot("feed-large-text");
        setScale(1.0);
        window.applyTheme();
        document.newGadget();
        window.showCrossbar();
        shoot("empty");
    }
    return failed == 0 ? 0 : 3;
}

QString firstThatExists(const QStringList& folders) {
    for (const auto& folder : folders)
        if (QDir(folder).exists()) return folder;
    return folders.front();
}

}  // namespace

int main(int argc, char** argv) {
    bool wants_shots = false;
    for (int i = 1; i < argc; ++i) wants_shots = wants_shots || QString(argv[i]) == "--shots";
    const bool display = !qEnvironmentVariableIsEmpty("DISPLAY") || !qEnvironmentVariableIsEmpty("WAYLAND_DISPLAY") || !qEnvironmentVariableIsEmpty("QT_QPA_PLATFORM");
    if (wants_shots) qputenv("QT_QPA_PLATFORM", "offscreen");
    else if (!display) {
        QTextStream(stderr) << "There is no display here. './demo --shots DIR' writes every main view as a picture instead.\n";
        return 3;
    }
    QApplication application(argc, argv);
    QApplication::setOrganizationName("hinge-spark");
    QApplication::setApplicationName("hinge-spark");
    loadFonts();
    const QColor window_colour = QApplication::palette().color(QPalette::Window);
    useDark(!wants_shots && window_colour.lightness() < 128);
    QCommandLineParser parser;
    parser.setApplicationDescription("Hinge Spark: for gadgets that move or switch something.");
    parser.addHelpOption();
    parser.addPositionalArgument("project", "project folder; the demo without one");
    parser.addOption({"shots", "write every main view as PNG into DIR and end", "DIR"});
    parser.addOption({"all", "with --shots: every other picture too"});
    parser.addOption({"new", "start with a new gadget"});
    parser.process(application);

    const QString parts = firstThatExists({HINGE_PARTS_DIR, QString(HINGE_INSTALLED_DIR) + "/parts"});
    const QString demo = firstThatExists({HINGE_DEMO_DIR, QString(HINGE_INSTALLED_DIR) + "/demos"}) + "/paper-moon-stage";
    Document document(parts);
    MainWindow window(&document);
    window.resize(1280, 800);
    if (!parser.isSet("new")) window.openFolder(parser.positionalArguments().isEmpty() ? demo : parser.positionalArguments().front());
    if (parser.isSet("shots")) return shots(window, document, parser.value("shots"), parser.isSet("all"));
    window.show();
    return QApplication::exec();
}
