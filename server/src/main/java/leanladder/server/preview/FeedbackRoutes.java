package leanladder.server.preview;

import java.time.Instant;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import leanladder.catalogue.Setting;
import leanladder.estate.Account;
import leanladder.estate.Feedback;
import leanladder.server.http.CsvResponse;
import leanladder.server.http.QueryParameters;
import leanladder.server.http.RequestContext;
import leanladder.server.http.Response;
import leanladder.server.http.RouteGroup;
import leanladder.server.http.RouteRegistry;
import leanladder.server.paging.AccountPage;
import leanladder.server.query.QueryContext;

/** What people found of releases: of one release, or by one person, the newest first. */
public record FeedbackRoutes(QueryContext.Reader queries) implements RouteGroup {
    private static final String GONE = "Somebody who has left";
    private static final int MOST = 1000;

    /**
     * What somebody found.
     *
     * @param verdict works, fails or idea
     * @param dealt since when it is dealt with; null where it is not @param answer what was done about it
     */
    public record FeedbackLine(
            String id,
            String release,
            String title,
            String account,
            String displayName,
            Instant at,
            String verdict,
            String text,
            String device,
            Optional<Instant> dealt,
            String answer) {}

    /** What people found. @param total how many there are, of which the newest are listed */
    public record FeedbackList(int total, int open, List<FeedbackLine> feedback) {}

    @Override
    public void routes(RouteRegistry routeRegistry) {
        routeRegistry.get("/feedback", this::list, FeedbackList.class);
    }

    private Response list(RequestContext requestContext) {
        QueryParameters queryParameters =
                requestContext.query(QueryParameters.about("release", "account", "which", "limit", "format"));
        QueryContext queryContext = queries.read(queryParameters);
        Optional<String> release = queryParameters.one("release");
        Optional<String> account = queryParameters.one("account");
        boolean openOnly = queryParameters
                .word("which", List.of("open", "all"))
                .orElse("all")
                .equals("open");
        List<FeedbackLine> all = queryContext.estate().feedback().stream()
                .filter(f -> release.isEmpty() || release.get().equals(f.release()))
                .filter(f -> account.isEmpty() || account.get().equals(f.account()))
                .filter(f -> !openOnly || f.dealt().isEmpty())
                .sorted(Comparator.comparing(Feedback::at).reversed().thenComparing(Feedback::id))
                .map(f -> line(queryContext, f))
                .toList();
        if (queryParameters.isCsv())
            return Response.of(new CsvResponse(
                    "feedback.csv",
                    List.of("release", "name", "address", "at", "verdict", "text", "device", "dealt with", "answer"),
                    AccountPage.lines(
                            all,
                            f -> CsvResponse.line(
                                    f.title,
                                    f.displayName,
                                    queryContext
                                            .estate()
                                            .account(f.account)
                                            .map(Account::userName)
                                            .orElse(""),
                                    f.at.toString(),
                                    f.verdict,
                                    f.text,
                                    f.device,
                                    f.dealt.map(Instant::toString).orElse(""),
                                    f.answer))));
        return Response.of(new FeedbackList(
                all.size(),
                (int) all.stream().filter(f -> f.dealt.isEmpty()).count(),
                all.subList(0, Math.min(all.size(), queryParameters.number("limit", MOST, MOST)))));
    }

    private static FeedbackLine line(QueryContext queryContext, Feedback feedback) {
        return new FeedbackLine(
                feedback.id(),
                feedback.release(),
                queryContext
                        .estate()
                        .catalogue()
                        .setting(feedback.release())
                        .map(Setting::title)
                        .orElse(feedback.release()),
                feedback.account(),
                queryContext
                        .estate()
                        .account(feedback.account())
                        .map(Account::displayName)
                        .orElse(GONE),
                feedback.at(),
                feedback.verdict().word(),
                feedback.text(),
                feedback.source().path("device").asText(""),
                feedback.dealt(),
                feedback.source().path("dealt").path("note").asText(""));
    }
}
