package leanladder.server.preview;

import java.io.IOException;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import leanladder.catalogue.Setting;
import leanladder.estate.Account;
import leanladder.estate.Ring;
import leanladder.preview.Arriving;
import leanladder.preview.Coming;
import leanladder.preview.ReleaseSets;
import leanladder.server.draft.Inquiry;
import leanladder.server.http.Answer;
import leanladder.server.http.Api;
import leanladder.server.http.Call;
import leanladder.server.http.Limits;
import leanladder.server.http.Problem;
import leanladder.server.http.Query;
import leanladder.server.http.Room;
import leanladder.server.http.Sent;
import leanladder.server.mail.Post;
import org.roaringbitmap.RoaringBitmap;

/**
 * Writes to those who get something what is coming to them, and when: because an administrator asks for it, opening by opening, and never twice
 * to the same person for the same day.
 */
public record NoticeRoutes(Inquiry.Reader inquiries, Post post) implements Room {
    private static final int MOST = 10_000;

    /** To how many people a notice was written; those who had been written to before are not among them. */
    public record NoticesWritten(long written) {}

    @Override
    public void routes(Api api) {
        api.post("/releases/{setting}/notices", this::write, NoticeRoutes::written, NoticesWritten.class);
    }

    private static Answer written(long many) {
        return Answer.of(new NoticesWritten(many));
    }

    private Answer write(Call call) throws IOException {
        Sent sent = call.sent();
        Inquiry inquiry = inquiries.of(Query.none());
        Optional<String> to = sent.text("to", Limits.NAME);
        Optional<String> text =
                sent.text("text", Limits.NOTE).map(String::strip).filter(t -> !t.isEmpty());
        if (to.isEmpty() && sent.defects().isEmpty()) sent.defects().add("/to", "is missing");
        sent.refuseDefects();
        if (!post.hands())
            throw Problem.refused(
                    409,
                    "No mail server",
                    "No mail server is named, so that nothing was written. Start with --mail FILE.");
        Setting setting = inquiry.setting(call.path("setting"));
        Arriving arriving = arriving(inquiry, setting, to.orElseThrow());
        if (arriving.accounts().getCardinality() > MOST)
            throw Problem.refused(
                    422,
                    "Too many",
                    String.format(
                            Locale.ROOT,
                            "It comes to %,d accounts; at most %,d are written to one by one. Nothing was written; copy the"
                                    + " arrivals as text into a newsletter instead.",
                            arriving.accounts().getCardinality(),
                            MOST));
        Coming coming = arriving.coming();
        RoaringBitmap unjoined = unjoined(inquiry, coming);
        List<Post.Letter> letters = new ArrayList<>();
        arriving.accounts().forEach((int n) -> {
            Account account = inquiry.directory().account(n);
            letters.add(new Post.Letter(
                    "coming:" + setting.key() + ":" + coming.whom() + ":" + coming.at() + ":" + account.id(),
                    account,
                    "“" + setting.title() + "” is coming on "
                            + inquiry.wording().day(coming.at()),
                    words(inquiry, setting, coming, text, unjoined.contains(n))));
        });
        return written(post.write(call.request(), letters));
    }

    /** The opening that is still to come, and whom it brings the feature. */
    private static Arriving arriving(Inquiry inquiry, Setting setting, String to) {
        Instant now = inquiry.question().at();
        return Arriving.between(
                        inquiry.estate(),
                        inquiry.directory(),
                        inquiry.moment().solution().releases(),
                        now,
                        Instant.MAX)
                .stream()
                .filter(a -> a.coming().release().setting().equals(setting.key())
                        && a.coming().whom().equals(to)
                        && a.coming().release().held().isEmpty())
                .findFirst()
                .orElseThrow(
                        () -> Problem.refused(
                                409,
                                "Nothing is coming",
                                "\"" + setting.title() + "\" has no opening to \"" + to
                                        + "\" that is still to come; it is open already, is held, or has no date. Nothing was written."));
    }

    /** Whose ring asks for a consent that they have not given, neither to the ring nor to the release. */
    private static RoaringBitmap unjoined(Inquiry inquiry, Coming coming) {
        RoaringBitmap unjoined = new RoaringBitmap();
        if (coming.ring().isEmpty()) return unjoined;
        List<Ring> rings = inquiry.estate().rings();
        ReleaseSets sets = inquiry.moment().solution().releases();
        for (int i = 0; i <= rings.indexOf(coming.ring().get()); i++)
            if (rings.get(i).asksConsent()) unjoined.or(RoaringBitmap.andNot(sets.standingIn(i), sets.consentedTo(i)));
        unjoined.andNot(sets.consentedAlone(coming.release().setting()));
        return unjoined;
    }

    private static String words(
            Inquiry inquiry, Setting setting, Coming coming, Optional<String> text, boolean isUnjoined) {
        boolean isPreview = coming.ring()
                .map(r -> inquiry.estate().rings().indexOf(r)
                        < inquiry.estate().rings().size() - 1)
                .orElse(true);
        String guide = coming.release().source().path("guide").asText("");
        return text.map(t -> t + "\n\n").orElse("")
                + "“" + setting.title() + "”"
                + inquiry.app(setting).map(app -> " in " + app).orElse("")
                + (coming.planned() ? " is planned to come to you on " : " comes to you on ")
                + inquiry.wording().moment(coming.at()) + "."
                + (isUnjoined ? " It shows once you have joined the preview, under “What is coming”." : "")
                + (isPreview
                        ? "\n\nIt is a preview: it is unfinished, and may change, fail, or be taken back. What you find helps"
                                + " those who make it; say it under “What is coming”."
                        : "")
                + (guide.isEmpty() ? "" : "\n\nHow it works: " + guide)
                + "\n";
    }
}
