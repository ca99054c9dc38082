// The photos of a project: read whole, looked at, and only then decoded.
#include <QBuffer>
#include <QDir>
#include <QFileInfo>
#include <QImageReader>
#include <QRegularExpression>
#include "files/folder.hpp"
#include "shell/document.hpp"

namespace hinge::app {

namespace {

// A picture's bytes and what decodes them: only what was read whole and looked at comes to a decoder.
struct Decoder {
    explicit Decoder(const std::string& bytes)
        : data(QByteArray::fromRawData(bytes.data(), static_cast<qsizetype>(bytes.size()))), buffer(&data) {
        buffer.open(QIODevice::ReadOnly);
        QImageReader::setAllocationLimit(1024);  // MB: a header that promises more is not believed
        reader.setDevice(&buffer);
        reader.setAutoTransform(true);
        reader.setDecideFormatFromContent(true);
    }
    // Made smaller while it is read: what it would take whole never has to fit.
    void atMost(int pixels) {
        const QSize size = reader.size();
        if (size.isValid() && std::max(size.width(), size.height()) > pixels)
            reader.setScaledSize(size.scaled(pixels, pixels, Qt::KeepAspectRatio));
    }
    QByteArray data;
    QBuffer buffer;
    QImageReader reader;
};

}  // namespace

QImage Document::photo(const std::string& name) const {
    const auto bytes = store::readPhoto(folder_.toStdString(), name);
    if (!bytes) return {};
    Decoder decoder(*bytes);
    decoder.atMost(640);
    return decoder.reader.read();
}

std::pair<QString, QString> Document::takePhoto(const QString& file) {
    const QString name = QFileInfo(file).fileName();
    if (folder_.isEmpty()) return {{}, tr("Save this gadget first: its photos lie in its own folder.")};
    if (!QFileInfo::exists(file)) return {{}, tr("%1 is not there any more. Choose another photo.").arg(name)};
    // Whole and looked at before a decoder sees it: a pipe, a device or a file without end is no photo.
    const auto bytes = files::readWhole(file.toStdString(), files::largest_photo);
    if (!bytes) return {{}, tr("%1 cannot be taken: %2.").arg(name, words(bytes.error()))};
    Decoder decoder(*bytes);
    auto& reader = decoder.reader;
    if (!reader.canRead()) {
        QStringList known;
        for (const auto& format : QImageReader::supportedImageFormats()) known << QString::fromLatin1(format);
        return {{}, tr("%1 is no picture that can be read here. Save it as one of %2 and try again.").arg(name, known.join(", "))};
    }
    decoder.atMost(2000);
    const QImage picture = reader.read();
    if (picture.isNull())
        return {{},
                tr("%1 cannot be read: %2. The file may be cut short, or too large; save it smaller and try again.")
                    .arg(name, reader.errorString())};
    const QString base = QFileInfo(file).completeBaseName().left(40).replace(QRegularExpression("[^A-Za-z0-9_-]+"), "_");
    QByteArray jpeg;
    QBuffer out(&jpeg);
    out.open(QIODevice::WriteOnly);
    if (!picture.save(&out, "JPG", 88)) return {{}, tr("%1 cannot be written as JPEG. Save it smaller and try again.").arg(name)};
    const auto folder = files::Folder::open(folder_.toStdString());
    if (!folder) return {{}, words(folder.error())};
    const auto there = folder->making("photos");
    if (!there) return {{}, tr("The photo cannot be kept: %1.").arg(words(there.error()))};
    QString kept;
    for (int n = 1; kept.isEmpty() || there->has(kept.toStdString()); ++n)
        kept = QString("%1%2.jpg").arg(base.isEmpty() ? "photo" : base, n == 1 ? QString() : QString("_%1").arg(n));
    if (const auto written = there->write(kept.toStdString(), {jpeg.constData(), static_cast<std::size_t>(jpeg.size())}); !written)
        return {{}, tr("The photo cannot be kept: %1. Free some space and try again.").arg(words(written.error()))};
    return {kept, {}};
}

}  // namespace hinge::app
