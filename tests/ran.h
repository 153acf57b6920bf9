#pragma once
// Other programs that read what was written.
#include <QByteArray>
#include <QFile>
#include <QProcess>
#include <QStringList>
#include <string>

namespace vicinal::test {

/// What a program prints; ends the test with its error where it fails.
inline QByteArray ran(const QString& program, const QStringList& arguments) {
    QProcess p;
    p.start(program, arguments);
    if (!p.waitForFinished(120'000) || p.exitCode() != 0)
        qFatal("%s: %s", qPrintable(program), p.readAllStandardError().constData());
    return p.readAllStandardOutput();
}

inline void write(const QString& file, const std::string& bytes) {
    QFile f(file);
    if (!f.open(QIODevice::WriteOnly) || f.write(bytes.data(), qint64(bytes.size())) != qint64(bytes.size()))
        qFatal("cannot write %s", qPrintable(file));
}

} // namespace vicinal::test
