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
import leanladder.estate.Track;
import leanladder.preview.ReleaseAudience;
import leanladder.preview.ScheduledOpening;
import leanladder.preview.UpcomingReleases;
import leanladder.server.http.JsonRequestBody;
import leanladder.server.http.Limits;
import leanladder.server.http.ProblemException;
import leanladder.server.http.QueryParameters;
import leanladder.server.http.RequestContext;
import leanladder.server.http.Response;
import leanladder.server.http.RouteGroup;
import leanladder.server.http.RouteRegistry;
import leanladder.server.mail.Mailer;
import leanladder.server.query.QueryContext;
import org.roaringbitmap.RoaringBitmap;

/**
 * Writes to those who get something what is coming to them, and when: because an administrator asks for it, opening by opening, and never twice
 * to the same person for the same day.
 */
public record AnnouncementRoutes(QueryContext.Reader queries, Mailer mailer) implements RouteGroup {
    private static final int MOST = 10_000;

    /** To how many people a notice was written; those who had been written to before are not among them. */
    public record AnnouncementResult(long written) {}

    @Override
    public void routes(RouteRegistry routeRegistry) {
        routeRegistry.post(
                "/releases/{setting}/notices", this::write, AnnouncementRoutes::written, AnnouncementResult.class);
    }

    private static Response written(long many) {
        return Response.of(new AnnouncementResult(many));
    }

    private Response write(RequestContext requestContext) throws IOException {
        JsonRequestBody jsonRequestBody = requestContext.jsonRequestBody();
        QueryContext queryContext = queries.read(QueryParameters.none());
        Optional<String> to = jsonRequestBody.text("to", Limits.NAME);
        Optional<String> text =
                jsonRequestBody.text("text", Limits.NOTE).map(String::strip).filter(t -> !t.isEmpty());
        if (to.isEmpty() && jsonRequestBody.defects().isEmpty())
            jsonRequestBody.defects().add("/to", "is missing");
        jsonRequestBody.refuseDefects();
        if (!mailer.hands())
            throw ProblemException.refused(
                    409,
                    "No mail server",
                    "No mail server is named, so that nothing was written. Start with --mail FILE.");
        Setting setting = queryContext.setting(requestContext.path("setting"));
        UpcomingReleases upcomingReleases = arriving(queryContext, setting, to.orElseThrow());
        if (upcomingReleases.accounts().getCardinality() > MOST)
            throw ProblemException.refused(
                    422,
                    "Too many",
                    String.format(
                            Locale.ROOT,
                            "It comes to %,d accounts; at most %,d are written to one by one. Nothing was written; copy the"
                                    + " arrivals as text into a newsletter instead.",
                            upcomingReleases.accounts().getCardinality(),
                            MOST));
        ScheduledOpening scheduledOpening = upcomingReleases.coming();
        RoaringBitmap unjoined = unjoined(queryContext, scheduledOpening);
        List<Mailer.MailMessage> letters = new ArrayList<>();
        upcomingReleases.accounts().forEach((int n) -> {
            Account account = queryContext.directory().account(n);
            letters.add(new Mailer.MailMessage(
                    "coming:" + setting.key() + ":" + scheduledOpening.whom() + ":" + scheduledOpening.at() + ":"
                            + account.id(),
                    account,
                    "“" + setting.title() + "” is coming on "
                            + queryContext.estateFormatter().day(scheduledOpening.at()),
                    words(queryContext, setting, scheduledOpening, text, unjoined.contains(n))));
        });
        return written(mailer.write(requestContext.writeRequest(), letters));
    }

    /** The opening that is still to come, and whom it brings the feature. */
    private static UpcomingReleases arriving(QueryContext queryContext, Setting setting, String to) {
        Instant now = queryContext.question().at();
        return UpcomingReleases.between(
                        queryContext.estate(),
                        queryContext.directory(),
                        queryContext.instantResolution().columnResolver()::releases,
                        now,
                        Instant.MAX)
                .stream()
                .filter(a -> a.coming().release().setting().equals(setting.key())
                        && a.coming().whom().equals(to)
                        && a.coming().release().held().isEmpty())
                .findFirst()
                .orElseThrow(
                        () -> ProblemException.refused(
                                409,
                                "Nothing is coming",
                                "\"" + setting.title() + "\" has no opening to \"" + to
                                        + "\" that is still to come; it is open already, is held, or has no date. Nothing was written."));
    }

    /** Whose ring asks for a consent that they have not given, neither to the ring nor to the release. */
    private static RoaringBitmap unjoined(QueryContext queryContext, ScheduledOpening scheduledOpening) {
        RoaringBitmap unjoined = new RoaringBitmap();
        if (scheduledOpening.ring().isEmpty()) return unjoined;
        Track track = queryContext.estate().trackOf(scheduledOpening.release());
        List<Ring> rings = track.rings();
        ReleaseAudience sets = queryContext.instantResolution().columnResolver().releases(track);
        for (int i = 0; i <= rings.indexOf(scheduledOpening.ring().get()); i++)
            if (rings.get(i).asksConsent()) unjoined.or(RoaringBitmap.andNot(sets.standingIn(i), sets.consentedTo(i)));
        unjoined.andNot(sets.consentedAlone(scheduledOpening.release().setting()));
        return unjoined;
    }

    private static String words(
            QueryContext queryContext,
            Setting setting,
            ScheduledOpening scheduledOpening,
            Optional<String> text,
            boolean isUnjoined) {
        List<Ring> rings =
                queryContext.estate().trackOf(scheduledOpening.release()).rings();
        boolean isPreview = scheduledOpening
                .ring()
                .map(r -> rings.indexOf(r) < rings.size() - 1)
                .orElse(true);
        String guide = scheduledOpening.release().guide().orElse("");
        return text.map(t -> t + "\n\n").orElse("")
                + "“" + setting.title() + "”"
                + queryContext.app(setting).map(app -> " in " + app).orElse("")
                + (scheduledOpening.planned() ? " is planned to come to you on " : " comes to you on ")
                + queryContext.estateFormatter().moment(scheduledOpening.at()) + "."
                + (isUnjoined ? " It shows once you have joined the preview, under “What is coming”." : "")
                + (isPreview
                        ? "\n\nIt is a preview: it is unfinished, and may change, fail, or be taken back. What you find helps"
                                + " those who make it; say it under “What is coming”."
                        : "")
                + (guide.isEmpty() ? "" : "\n\nHow it works: " + guide)
                + "\n";
    }
}
