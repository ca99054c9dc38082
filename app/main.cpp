#include <QApplication>
#include <QCommandLineParser>
#include <QDir>
#include <QPalette>
#include <QSettings>
#include <QStandardPaths>
#include <QTextStream>
#include <clocale>
#include "pictures/spots.hpp"
#include "shell/guide.hpp"
#include "shell/main_window.hpp"
#include "shell/shots.hpp"
#include "theme/theme.hpp"

namespace {

using namespace hinge::app;

QString firstThatExists(const QStringList& folders) {
    for (const auto& folder : folders)
        if (QDir(folder).exists()) return folder;
    return folders.front();
}

}  // namespace

int main(int argc, char** argv) {
    bool wants_shots = false;
    for (int i = 1; i < argc; ++i) wants_shots = wants_shots || QString(argv[i]) == "--shots";
    const bool display = !qEnvironmentVariableIsEmpty("DISPLAY") || !qEnvironmentVariableIsEmpty("WAYLAND_DISPLAY") ||
                         !qEnvironmentVariableIsEmpty("QT_QPA_PLATFORM");
    if (wants_shots) qputenv("QT_QPA_PLATFORM", "offscreen");
    else if (!display) {
        QTextStream(stderr) << "There is no display here. './demo --shots DIR' writes every main view as a picture instead.\n";
        return 3;
    }
    QApplication application(argc, argv);
    // Qt takes the desktop's locale for the whole process; libraries that read files would then want a decimal comma in them.
    std::setlocale(LC_NUMERIC, "C");
    QApplication::setOrganizationName("hinge-spark");
    QApplication::setApplicationName("hinge-spark");
    loadFonts();
    installSpots();
    const QColor window_colour = QApplication::palette().color(QPalette::Window);
    useDark(!wants_shots && window_colour.lightness() < 128);
    QCommandLineParser parser;
    parser.setApplicationDescription("Hinge Spark: for gadgets that move or switch something.");
    parser.addHelpOption();
    parser.addPositionalArgument("project", "project folder; the demo without one");
    parser.addOption({"shots", "write every main view as PNG into DIR and end", "DIR"});
    parser.addOption({"all", "with --shots: every other picture too"});
    parser.addOption({"only", "with --shots: the pictures of one stage, pins, prove or log, or of the handbook", "STAGE"});
    parser.addOption({"new", "start with a new gadget"});
    parser.process(application);

    const QString parts = firstThatExists({HINGE_PARTS_DIR, QString(HINGE_INSTALLED_DIR) + "/parts"});
    const QString demo = firstThatExists({HINGE_DEMO_DIR, QString(HINGE_INSTALLED_DIR) + "/demos"}) + "/paper-moon-stage";
    Document document(parts);
    // Pictures and tests show the shipped parts only.
    if (!wants_shots) document.setOwnParts(QStandardPaths::writableLocation(QStandardPaths::AppLocalDataLocation) + "/parts");
    MainWindow window(&document);
    window.resize(1280, 800);
    if (!parser.isSet("new")) window.openFolder(parser.positionalArguments().isEmpty() ? demo : parser.positionalArguments().front());
    if (parser.isSet("shots"))
        return shots(window, document, parser.value("shots"), parser.isSet("all") ? "all" : parser.value("only")) == 0 ? 0 : 3;
    window.show();
    if (!parser.isSet("new") && parser.positionalArguments().isEmpty() && !QSettings().value("guided").toBool()) window.guide()->start();
    return QApplication::exec();
}
