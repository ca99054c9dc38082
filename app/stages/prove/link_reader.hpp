#pragma once
#include <QObject>
#include <QTimer>
#include "proof/bring_up.hpp"
#include "stages/tune/link_session.hpp"

namespace hinge::app {

/// Takes the reading of a hold point over the live link.
class LinkReader final : public QObject {
    Q_OBJECT
public:
    LinkReader(Document* document, LinkSession* session, QObject* parent = nullptr);
    /// Begins; empty, or why it cannot.
    QString begin(const proof::Step& step);
    /// Lets go of what it holds; nothing is taken.
    void cancel();
    [[nodiscard]] bool busy() const { return watch_.isActive(); }
    /// What it waits for, in words.
    [[nodiscard]] QString doing() const { return doing_; }
    [[nodiscard]] LinkSession* session() const { return session_; }

Q_SIGNALS:
    void progressed();
    void took(const QString& reading);
    void gaveUp(const QString& why);

private:
    void look();
    void end();
    [[nodiscard]] double boardTime() const;

    Document* document_;
    LinkSession* session_;
    proof::Step step_;
    QTimer watch_;
    QString doing_;
    double from_ = 0.0;      ///< board's time [s]
    std::size_t first_ = 0;  ///< sample that it begins at
    int output_ = -1;
    bool held_ = false;
    std::vector<std::size_t> watched_;  ///< inputs, by their place on the link
    std::uint32_t high_ = 0, low_ = 0;  ///< inputs that were seen so
    int silent_ = 0;                    ///< looks in a row that brought nothing new
    std::size_t heard_ = 0;
};

}  // namespace hinge::app
