// The buttons at the head of a page of which one is down: they choose what the page shows.
#pragma once

#include <QStringList>
#include <functional>
#include <vector>

class QAbstractButton;
class QHBoxLayout;

namespace offshoot::ui {

/// Adds them to the head, in as many lines as they need; the first is down. `chosen` gets the index of the
/// one pressed.
std::vector<QAbstractButton*> addTabs(QHBoxLayout& head, const QStringList& names,
                                      const std::function<void(int)>& chosen);

} // namespace offshoot::ui
