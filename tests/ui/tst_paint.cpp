// Painted views, looked at by their pixels: marks differ by shape alone, bands stand in their order, a
// reading stands where it belongs, the ribbon and the frame say what they should.
#include "core/values/marking.h"
#include "ui/driver.h"
#include "ui/paint/axes.h"
#include "ui/paint/marks.h"
#include "ui/procedure/reading_gauge.h"
#include "ui/retune/retune_page.h"
#include "ui/test_folder.h"

#include <algorithm>
#include <set>

using namespace offshoot;
using namespace offshoot::test;

namespace {

QImage canvas(int w, int h)
{
    QImage image(w, h, QImage::Format_RGB32);
    image.fill(Qt::white);
    return image;
}

bool close(QRgb a, const QColor& b, int far = 40)
{
    return std::abs(qRed(a) - b.red()) < far && std::abs(qGreen(a) - b.green()) < far &&
           std::abs(qBlue(a) - b.blue()) < far;
}

/// Pixels of about this colour.
int count(const QImage& image, const QColor& colour)
{
    int n = 0;
    for (int y = 0; y < image.height(); ++y)
        for (int x = 0; x < image.width(); ++x)
            n += close(image.pixel(x, y), colour) ? 1 : 0;
    return n;
}

/// The middle of the pixels of about this colour, across; −1 without any.
double middleX(const QImage& image, const QColor& colour)
{
    double sum = 0;
    int n = 0;
    for (int y = 0; y < image.height(); ++y)
        for (int x = 0; x < image.width(); ++x)
            if (close(image.pixel(x, y), colour)) {
                sum += x;
                ++n;
            }
    return n > 0 ? sum / n : -1;
}

} // namespace

class TestPaint : public QObject
{
    Q_OBJECT

    TestFolder m_folder;

private Q_SLOTS:
    void initTestCase() { ui::loadFonts(); }
    void init() { m_folder.renew(); }

    /// With all colours made one the four marks and the three signs are still told apart.
    void shapesAlone()
    {
        ui::Colours one = ui::lightColours();
        one.fits = one.tight = one.breaks = one.unknown = Qt::black;
        std::vector<QImage> marks;
        for (std::size_t i = 0; i < Words<Verdict>::list.size(); ++i) {
            QImage image = canvas(24, 24);
            QPainter painter(&image);
            ui::paintVerdict(painter, static_cast<Verdict>(i), {12, 12}, 16, one);
            painter.end();
            QVERIFY(count(image, Qt::black) > 10);
            marks.push_back(image);
            QVERIFY(!ui::verdictWord(static_cast<Verdict>(i)).isEmpty());
        }
        std::vector<QImage> signs;
        for (std::size_t i = 0; i < Words<Isolation>::list.size(); ++i) {
            QImage image = canvas(24, 24);
            QPainter painter(&image);
            ui::paintIsolationSign(painter, static_cast<Isolation>(i), QRectF(2, 2, 20, 20), Qt::black);
            painter.end();
            signs.push_back(image);
        }
        for (const auto* set : {&marks, &signs})
            for (std::size_t a = 0; a < set->size(); ++a)
                for (std::size_t b = a + 1; b < set->size(); ++b) {
                    int differ = 0;
                    for (int i = 0; i < 24 * 24; ++i)
                        differ += std::abs(qGray((*set)[a].pixel(i % 24, i / 24)) -
                                           qGray((*set)[b].pixel(i % 24, i / 24))) > 90
                                      ? 1
                                      : 0;
                    QVERIFY2(differ > 20, qPrintable(u"%1 and %2 differ by %3"_s.arg(a).arg(b).arg(differ)));
                }
    }

    /// A kept line looks as one that is set anew: in every place of its box, elided, and cut where it is too
    /// high.
    void words_data()
    {
        QTest::addColumn<QString>("text");
        for (const QString& text : {u"27.6 V"_s, u"R12 ∥ 4k7, across bottom"_s, u"Ω µ · – …"_s, u"a"_s, u""_s,
                                    u"two words  "_s, u"שלום 12"_s, QString(90, u'w')})
            QTest::newRow(qPrintable(text.isEmpty() ? u"nothing"_s : text.left(12))) << text;
    }
    void words()
    {
        QFETCH(QString, text);
        const ui::Look look;
        const QRectF boxes[] = {{10.3, 5.7, 180, 20}, {4, 2, 61.5, 9}, {20, 8, 300, 31}};
        for (const QFont& font : {look.caption(), look.font(15, true)})
            for (const QRectF& box : boxes)
                for (const auto across : {Qt::AlignLeft, Qt::AlignRight, Qt::AlignHCenter})
                    for (const auto down : {Qt::AlignTop, Qt::AlignVCenter, Qt::AlignBottom})
                        for (const auto elide : {Qt::ElideRight, Qt::ElideMiddle}) {
                            QImage kept = canvas(340, 50);
                            QPainter painter(&kept);
                            const int wide =
                                ui::paintText(painter, box, text, font, Qt::black, across | down, elide);
                            painter.end();
                            QImage anew = canvas(340, 50);
                            QPainter other(&anew);
                            const QFontMetricsF metrics(font);
                            const QString shown = metrics.elidedText(text, elide, box.width() + 0.5);
                            other.setFont(font);
                            other.setPen(Qt::black);
                            other.drawText(box, int(across) | int(down) | Qt::TextSingleLine, shown);
                            other.end();
                            QCOMPARE(wide, static_cast<int>(metrics.horizontalAdvance(shown)));
                            QCOMPARE(kept, anew);
                            QCOMPARE(ui::textWidth(text, font), metrics.horizontalAdvance(text));
                        }
    }

    /// A resistor's bands stand from its upper end in the order its marking says.
    void bands_data()
    {
        QTest::addColumn<double>("ohm");
        for (double ohm : {22e3, 2550.0, 4700.0, 15e3, 0.22, 1e6})
            QTest::newRow(formatOhmsName(ohm).constData()) << ohm;
    }
    static QByteArray formatOhmsName(double ohm) { return QByteArray::number(ohm); }
    void bands()
    {
        QFETCH(double, ohm);
        constexpr double tolerance = 0.01;
        ui::Look look;
        QImage image = canvas(40, 200);
        QPainter painter(&image);
        ui::paintResistor(painter, QRectF(5, 0, 30, 200), ohm, tolerance, look);
        painter.end();
        const auto bands = markingWrite({.kind = MarkingKind::Bands,
                                         .value = ohm,
                                         .tolerance = tolerance,
                                         .tempco_per_k = {},
                                         .count = {},
                                         .style = {}})
                               .bands;
        std::size_t next = 0;
        for (int y = 0; y < image.height() && next < bands.size(); ++y)
            if (close(image.pixel(20, y), ui::bandColour(bands[next]), 12)) {
                ++next;
                while (y < image.height() && close(image.pixel(20, y), ui::bandColour(bands[next - 1]), 12))
                    ++y;
            }
        QCOMPARE(next, bands.size());
    }

    /// The colour's digit beside each band, on request.
    void digits()
    {
        ui::Look look;
        const auto ink = [&] {
            QImage image = canvas(80, 200);
            QPainter painter(&image);
            ui::paintResistor(painter, QRectF(40, 0, 30, 200), 22e3, 0.01, look);
            painter.end();
            return count(image.copy(0, 0, 36, 200), look.colours().ink);
        };
        QCOMPARE(ink(), 0);
        look.setBandDigits(true);
        QVERIFY(ink() > 30);
    }

    /// The dot of a reading moves with it, from below the band to above; beyond the axis it stays visible.
    void gauge()
    {
        ui::Look look;
        const Asked asked{"out", Quantity::Voltage, ReadingWindow{27.5, 27.7}, std::nullopt, "test"};
        double last = -1;
        for (double v : {20.0, 27.42, 27.55, 27.60, 27.65, 27.78, 40.0}) {
            const TakenReading taken{"L1",
                                     0,
                                     v,
                                     0.01,
                                     Quantity::Voltage,
                                     {},
                                     judgeReading({.value = v, .window = asked.window, .uncertainty = 0.01})};
            ui::ReadingGauge gauge(asked, taken, 27.45, look);
            gauge.resize(400, gauge.height());
            QImage image = canvas(400, gauge.height());
            gauge.render(&image);
            const double x = middleX(image, look.colours().measured);
            QVERIFY2(x > last, qPrintable(u"%1 V at %2, after %3"_s.arg(v).arg(x).arg(last)));
            last = x;
        }
        const Asked below{"bulk", Quantity::Voltage, ReadingWindow{std::nullopt, 10}, std::nullopt, "test"};
        ui::ReadingGauge empty(below, std::nullopt, std::nullopt, look);
        QImage image = canvas(400, 60);
        empty.resize(400, 60);
        empty.render(&image);
        QCOMPARE(count(image, look.colours().measured), 0);
    }

    void lamps()
    {
        ui::Look look;
        std::set<QByteArray> pictures;
        for (LampSeen seen : {LampSeen::Dark, LampSeen::Flash, LampSeen::Bright, LampSeen::Pulsing}) {
            const QImage image = ui::lampPicture(seen, look).toImage();
            pictures.insert(
                QByteArray(reinterpret_cast<const char*>(image.constBits()), image.sizeInBytes()));
        }
        QCOMPARE(pictures.size(), 4u);
    }

    void steps_data()
    {
        QTest::addColumn<double>("span");
        QTest::addColumn<int>("count");
        QTest::addColumn<double>("step");
        QTest::newRow("ten in five") << 10.0 << 5 << 2.0;
        QTest::newRow("one in four") << 1.0 << 4 << 0.5;
        QTest::newRow("thousands") << 7000.0 << 6 << 2000.0;
        QTest::newRow("millivolts") << 0.012 << 5 << 0.005;
        QTest::newRow("no room") << 3.0 << 0 << 5.0;
    }
    void steps()
    {
        QFETCH(double, span);
        QFETCH(int, count);
        QFETCH(double, step);
        QNEAR(ui::niceStep(span, count), step, 1e-9);
    }

    /// Values to pixels, times back from them; upwards is up.
    void axes()
    {
        ui::AxisRange volts{4.9, 5.1};
        volts.include(5.4);
        volts.widen(0.1, 2);
        QNEAR(volts.high - volts.low, 2);
        const ui::Axes axes(QRectF(60, 20, 400, 200), {0, 2}, volts);
        for (double a : {0.0, 0.3, 2.0})
            QNEAR(axes.valueAtX(axes.x(a)), a, 1e-9, 1e-12);
        QVERIFY(axes.y(5.4) < axes.y(4.9));
        QCOMPARE(axes.at(0, volts.low), axes.box().bottomLeft());
    }

    /// The ruler's scale: monotone, the window well inside, the same for every row.
    void rulerScale()
    {
        for (const Target& target :
             {Target{27.6, 27.3, 27.9}, Target{5, 4.75, 5.25}, Target{3.3, 3.29, 3.31}, Target{48, 40, 60}}) {
            const auto scale = ui::rulerScale(target, 10, 510);
            QNEAR(scale.x(scale.low_v), 10);
            QNEAR(scale.x(scale.high_v), 510);
            QVERIFY(scale.x(target.min_v) > 60 && scale.x(target.max_v) < 460 &&
                    scale.x(target.min_v) < scale.x(target.max_v));
        }
    }

    /// Live: a thin red line frames the whole window. Not live: it is gone.
    void redFrame()
    {
        Driver d(m_folder.demo());
        const auto edge = [&] { return d.window->grab().toImage().pixel(0, 400); };
        QVERIFY(close(edge(), ui::lightColours().breaks));
        d.log(u"battery off"_s);
        d.log(u"unplugged"_s);
        QCOMPARE(d.evaluation().isolation.state, Isolation::Unproven);
        QVERIFY(!close(edge(), ui::lightColours().breaks));
    }

    /// What is lost on the way makes the ribbon thinner behind it.
    void ribbon()
    {
        Driver d(m_folder.demo());
        const auto area = [&](double efficiency) {
            d.window->session().edit(u"efficiency"_s, [&](Job& j) { j.found.efficiency = efficiency; });
            auto* path = d.find<QWidget>(u"powerPath"_s);
            return count(path->grab().toImage(), d.window->look().colours().ribbon);
        };
        const int good = area(0.95);
        const int poor = area(0.5);
        QVERIFY2(poor < good * 0.9, qPrintable(u"%1 and %2"_s.arg(good).arg(poor)));
    }

    /// After every kind of edit what stands on the screen is what painting all of it anew gives: no view
    /// misses a change of what it shows.
    void standing_data()
    {
        QTest::addColumn<QString>("job");
        QTest::addColumn<int>("stage");
        QTest::newRow("retuning") << u"beacon-float-charge"_s << 3;
        QTest::newRow("need") << u"splicing-bench"_s << 1;
        QTest::newRow("several rails") << u"splicing-bench"_s << 2;
        QTest::newRow("steps") << u"splicing-bench"_s << 5;
    }
    void standing()
    {
        QFETCH(QString, job);
        QFETCH(int, stage);
        QApplication::setCursorFlashTime(0);
        Driver d(m_folder.job(job.toStdString()));
        d.stage(stage);
        ui::JobSession& session = d.window->session();
        const auto screen = [&d] {
            for (int round = 0; round < 3; ++round) // a list lays itself out by a timer of no time
                QApplication::processEvents();
            return d.window->screen()->grabWindow(d.window->winId()).toImage();
        };
        QImage before = screen();
        int moved = 0;
        const auto expect = [&](const char* what) {
            const QImage seen = screen();
            const QImage anew = d.window->grab().toImage().convertToFormat(seen.format());
            moved += seen == before ? 0 : 1;
            before = seen;
            if (seen != anew)
                QFAIL(what);
        };
        const auto edit = [&](const char* what, const std::function<void(Job&)>& change) {
            session.edit(QString::fromUtf8(what), change);
            expect(what);
        };
        expect("opened");
        edit("title", [](Job& j) { j.title += ", again"; });
        edit("current", [](Job& j) { j.need.current_a = j.need.current_a.value_or(1) * 1.1; });
        edit("target", [](Job& j) { j.need.target->v += 0.03; });
        edit("window", [](Job& j) { j.need.target->max_v += 0.2; });
        edit("load", [](Job& j) {
            j.need.load.kind =
                j.need.load.kind == LoadKind::Battery ? LoadKind::Equipment : LoadKind::Battery;
        });
        edit("efficiency", [](Job& j) { j.found.efficiency = 0.6; });
        edit("tolerance", [](Job& j) { j.found.rails.front().feedback.tolerance = 0.02; });
        edit("rail", [](Job& j) { j.found.rails.front().i_rated_a = 1.5; });
        edit("meter", [](Job& j) { j.meter.volts.reading_fraction = 0.03; });
        if (!d.evaluation().candidates.empty())
            edit("part", [&d](Job& j) {
                const DividerOption& o = d.evaluation().candidates.back().option;
                j.plan.chosen = ChosenNetwork{o.method, o.network, o.parts};
            });
        edit("trimmer", [](Job& j) { j.plan.route = Route::TemporaryTrimmer; });
        edit("its track", [](Job& j) { j.plan.trimmer.pot_ohm = 4700; });
        const RowId row = d.evaluation().consequences.rows.front().id;
        edit("accepted", [row](Job& j) { j.plan.accepted.push_back({.row = row, .reason = "seen"}); });
        edit("another part", [row](Job& j) { j.plan.refits.push_back({.row = row, .rating = 40}); });
        session.select(Station::Load);
        expect("selection");
        d.window->look().setDark(true);
        expect("dark");
        d.log(u"unplugged"_s);
        expect("unplugged");
        d.log(u"note seen"_s);
        d.log(QString::fromStdString(d.job().found.rails.front().name) + u" 13.8"_s);
        expect("reading");
        session.undoStack().undo();
        expect("undone");
        QVERIFY(moved >= 8);
    }

    /// A name longer than the header is elided in the middle and whole in the tool tip.
    void longName()
    {
        Driver d(m_folder.demo());
        const std::string name(200, 'w');
        d.window->session().edit(u"name"_s, [&](Job& j) { j.title = "begin " + name + " end"; });
        QVERIFY(!d.window->grab().isNull());
        const auto widgets = d.window->findChildren<QWidget*>();
        QVERIFY(std::ranges::any_of(
            widgets, [&](const QWidget* w) { return w->toolTip().contains(QString::fromStdString(name)); }));
    }
};

REGISTER_TEST(TestPaint, QApplication)
#include "tst_paint.moc"
