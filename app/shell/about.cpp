#include "shell/about.hpp"
#include <QDialogButtonBox>
#include <QTextBrowser>
#include <QVBoxLayout>
#include "theme/theme.hpp"

namespace hinge::app {

const std::vector<Ingredient>& ingredients() {
    static const std::vector<Ingredient> all{
        {"Qt", QT_TR_NOOP("the window, pictures and paper"), "LGPL-3", "libqt6core6"},
        {"simavr", QT_TR_NOOP("the emulated chips"), "GPL-3", "libsimavr2"},
        {"UDUNITS-2", QT_TR_NOOP("units read and written"), "UCAR", "libudunits2-0"},
        {"libcsv", QT_TR_NOOP("tables read"), "LGPL-2.1+", "libcsv3"},
        {"libzip", QT_TR_NOOP("packets as one file"), "BSD-3-clause", "libzip4"},
        {"libelf", QT_TR_NOOP("compiled sketches read"), "LGPL-3+", "libelf1"},
        {"libseccomp", QT_TR_NOOP("what a stranger's firmware may ask of the system"), "LGPL-2.1", "libseccomp2"},
        {"{fmt}", QT_TR_NOOP("numbers and words set"), "Expat", "libfmt9"},
        {"Boost", QT_TR_NOOP("dimensions, roots, statistics"), "BSL-1.0", "libboost1.74-dev"},
        {"Eigen", QT_TR_NOOP("matrices"), "MPL-2", "libeigen3-dev"},
        {"JSON for Modern C++", QT_TR_NOOP("projects read and written"), "Expat", "nlohmann-json3-dev"},
        {"valijson", QT_TR_NOOP("projects held against their schema"), "BSD-2clause", "libvalijson-dev"},
        {"tl::expected", QT_TR_NOOP("errors as values"), "CC0-1.0", "libexpected-dev"},
        {"mustache", QT_TR_NOOP("sketch and packet filled in"), "BSL-1.0", "libkainjow-mustache-dev"},
    };
    return all;
}

About::About(QWidget* parent) : QDialog(parent) {
    setObjectName("about");
    setWindowTitle(tr("About Hinge Spark"));
    auto* text = new QTextBrowser;
    text->setObjectName("aboutText");
    text->setAccessibleName(windowTitle());
    text->setFont(textFont(Text::Body));
    text->setOpenLinks(false);
    QString rows;
    for (const auto& each : ingredients())
        rows += QString("<tr><td>%1&nbsp;&nbsp;</td><td>%2&nbsp;&nbsp;</td><td>%3</td></tr>")
                    .arg(QString(each.name).toHtmlEscaped(), tr(each.what), each.licence);
    text->setHtml(
        "<h2>Hinge Spark " HINGE_VERSION "</h2><p>" +
        tr("For gadgets that move or switch something: selects parts, does the sums, writes the sketch, tunes it, proves the build and "
           "keeps the log.") +
        "</p><p>" +
        tr("Licence: GPL-3.0-or-later. It comes without any warranty. It advises, and approves no design: follow your local code.") +
        "</p><p>" + tr("Made with, each under its own licence:") + "</p><table>" + rows + "</table><p>" +
        tr("Letters: B612 and B612 Mono, SIL Open Font License 1.1. Qt %1 runs here.").arg(qVersion()) + "</p>");
    auto* buttons = new QDialogButtonBox(QDialogButtonBox::Close);
    connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
    auto* column = new QVBoxLayout(this);
    column->addWidget(text);
    column->addWidget(buttons);
    resize(px(620), px(560));
}

}  // namespace hinge::app
