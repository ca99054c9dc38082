// What of the wires goes out: as CSV, as a list to tick off, as labels.
#include <QFileDialog>
#include <QFileInfo>
#include <QLabel>
#include <QPdfWriter>
#include <QTextDocument>
#include "files/folder.hpp"
#include "quantity/text.hpp"
#include "stages/pins/label_sheets.hpp"
#include "stages/pins/pins_page.hpp"
#include "theme/text.hpp"
#include "theme/theme.hpp"

namespace hinge::app {

void PinsPage::saveCsv() {
    const QString path = QFileDialog::getSaveFileName(this, tr("Save the wires"), document_->folder() + "/wires.csv", tr("CSV (*.csv)"));
    if (path.isEmpty()) return;
    const auto written =
        files::writeWhole(path.toStdString(), plan::wiringCsv(plan::wireRows(document_->model().project, document_->model().wires)));
    said_->setText(written ? tr("Saved as %1.").arg(path) : words(written.error()));
}

void PinsPage::saveLabels(std::size_t sheet) {
    const QString path = QFileDialog::getSaveFileName(this, tr("Labels"), document_->folder() + "/labels.pdf", tr("PDF (*.pdf)"));
    if (path.isEmpty()) return;
    const auto pages = printLabels(plan::wireRows(document_->model().project, document_->model().wires), labelSheets()[sheet], path);
    said_->setText(!pages       ? words(pages.error())
                   : *pages > 1 ? tr("%1 sheets in %2. Print them at their full size, without fitting to the page.").arg(*pages).arg(path)
                                : tr("One sheet in %1. Print it at its full size, without fitting to the page.").arg(path));
}

QString PinsPage::listHtml() const {
    const auto rows = plan::wireRows(document_->model().project, document_->model().wires);
    const auto esc = [](const std::string& s) { return QString::fromStdString(s).toHtmlEscaped(); };
    QString html = "<style>td, th { padding: 2px 8px 2px 0; text-align: left; }</style><h2>" + esc(document_->model().project.brief.name) +
                   ": " + tr("wires") + "</h2><table width='100%'><tr><th>" + tr("label") + "</th><th>" + tr("from") + "</th><th>" +
                   tr("to") + "</th><th>" + tr("colour") + "</th><th>" + tr("copper") + "</th><th>" + tr("length") + "</th><th>" +
                   tr("plug") + "</th><th>" + tr("done") + "</th></tr>";
    for (const auto& row : rows)
        html +=
            QString("<tr><td><b>%1</b></td><td>%2</td><td>%3</td><td>%4</td><td>%5</td><td>%6</td><td>%7</td><td>☐</td></tr>")
                .arg(esc(row.label), esc(row.wire.from), esc(row.wire.to), esc(row.colour), row.area ? esc(displayPlain(*row.area)) : "",
                     row.length ? esc(displayPlain(*row.length)) : "", esc(row.connector));
    html += "</table><h2 style='page-break-before: always'>" + tr("Labels, one for each end: cut out and fold round the wire") +
            "</h2><table border='1' cellspacing='0' cellpadding='5' width='100%'>";
    for (std::size_t i = 0; i < rows.size() * 2; ++i) {
        if (i % 4 == 0) html += "<tr>";
        const auto& row = rows[i / 2];
        html += QString("<td><b>%1</b><br>%2</td>").arg(esc(row.label), esc(i % 2 == 0 ? row.wire.from : row.wire.to));
        if (i % 4 == 3 || i + 1 == rows.size() * 2) html += "</tr>";
    }
    return html + "</table>";
}

void PinsPage::savePdf() {
    const QString path = QFileDialog::getSaveFileName(this, tr("List and labels"), document_->folder() + "/wires.pdf", tr("PDF (*.pdf)"));
    if (path.isEmpty()) return;
    QPdfWriter writer(path);
    writer.setPageSize(QPageSize(QPageSize::A4));
    QTextDocument page;
    page.setDefaultFont(textFont(Text::Body));
    page.setHtml(listHtml());
    page.print(&writer);
    said_->setText(QFileInfo(path).size() > 0 ? tr("Saved as %1.").arg(path)
                                              : tr("%1 could not be written. Choose another folder.").arg(path));
}

}  // namespace hinge::app
