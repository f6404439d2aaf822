// What is entered of one part of the rectifier chain: its own fields, those of its kind.
#pragma once

#include "core/kinds/chain/chain_view.h"
#include "ui/look.h"
#include "ui/session.h"

#include <QWidget>
#include <functional>

class QFormLayout;

namespace offshoot::ui {

/// Changes the planned chain where what results is a chain; otherwise says what is wrong, and false.
using ChainEdit =
    std::function<bool(const QString& what, const std::function<void(RectifierChain&)>& change)>;

/// What keeps it from being a chain, in the words of the job file's reader; empty where nothing does.
QString problemOf(const RectifierChain& chain);

class PartForm : public QWidget
{
    Q_OBJECT

public:
    PartForm(JobSession& session, Look& look, ChainEdit edit);
    /// The part at that place in the row of parts. `run`, by which a load is told in another way, is to stay
    /// until the next call.
    void show(int part, const ChainRun* run);

private:
    struct ChainField
    {
        QString label;
        Quantity quantity;
        std::function<std::optional<double>(const RectifierChain&)> get;
        std::function<void(RectifierChain&, std::optional<double>)> set;
        QString hint;
        bool zero = false;
        bool percent = false;
    };
    using SectionAt = std::function<SmoothingSection*(RectifierChain&)>;
    void addField(const ChainField& field);
    void addChoice(const QString& label, const QStringList& words, int current,
                   const std::function<void(RectifierChain&, int)>& set);
    void sectionField(const QString& label, Quantity quantity, const SectionAt& at,
                      double SmoothingSection::*member, const QString& hint, bool zero);
    /// What may be read off a part: what it bears, and its tolerance, a share.
    void readField(const QString& label, Quantity quantity, const SectionAt& at,
                   std::optional<double> SmoothingSection::*member, const QString& hint);
    /// `which` of several, or empty.
    void capacitorFields(const QString& which, const SectionAt& at);
    void sourceFields(const RectifierChain& chain);
    void rectifierFields(const RectifierChain& chain);
    void sectionFields(const RectifierChain& chain, std::size_t section);
    void tapFields(const RectifierChain& chain, std::size_t section);
    void loadFields(const RectifierChain& chain);

    JobSession& m_session;
    Look& m_look;
    ChainEdit m_edit;
    const ChainRun* m_run = nullptr;
    QFormLayout* m_form = nullptr;
    int m_part = -1;
    std::string m_shape; ///< kinds the fields were made for
};

} // namespace offshoot::ui
