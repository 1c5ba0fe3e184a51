package leanladder.server.preview;

import java.time.Instant;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import leanladder.catalogue.Setting;
import leanladder.estate.Account;
import leanladder.estate.Feedback;
import leanladder.server.draft.Inquiry;
import leanladder.server.http.Answer;
import leanladder.server.http.Api;
import leanladder.server.http.Call;
import leanladder.server.http.Csv;
import leanladder.server.http.Query;
import leanladder.server.http.Room;
import leanladder.server.list.AccountPage;

/** What people found of releases: of one release, or by one person, the newest first. */
public record FeedbackRoutes(Inquiry.Reader inquiries) implements Room {
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
    public void routes(Api api) {
        api.get("/feedback", this::list, FeedbackList.class);
    }

    private Answer list(Call call) {
        Query query = call.query(Query.about("release", "account", "which", "limit", "format"));
        Inquiry inquiry = inquiries.of(query);
        Optional<String> release = query.one("release");
        Optional<String> account = query.one("account");
        boolean openOnly =
                query.word("which", List.of("open", "all")).orElse("all").equals("open");
        List<FeedbackLine> all = inquiry.estate().feedback().stream()
                .filter(f -> release.isEmpty() || release.get().equals(f.release()))
                .filter(f -> account.isEmpty() || account.get().equals(f.account()))
                .filter(f -> !openOnly || f.dealt().isEmpty())
                .sorted(Comparator.comparing(Feedback::at).reversed().thenComparing(Feedback::id))
                .map(f -> line(inquiry, f))
                .toList();
        if (query.isCsv())
            return Answer.of(new Csv(
                    "feedback.csv",
                    List.of("release", "name", "address", "at", "verdict", "text", "device", "dealt with", "answer"),
                    AccountPage.lines(
                            all,
                            f -> Csv.line(
                                    f.title,
                                    f.displayName,
                                    inquiry.estate()
                                            .account(f.account)
                                            .map(Account::userName)
                                            .orElse(""),
                                    f.at.toString(),
                                    f.verdict,
                                    f.text,
                                    f.device,
                                    f.dealt.map(Instant::toString).orElse(""),
                                    f.answer))));
        return Answer.of(new FeedbackList(
                all.size(),
                (int) all.stream().filter(f -> f.dealt.isEmpty()).count(),
                all.subList(0, Math.min(all.size(), query.number("limit", MOST, MOST)))));
    }

    private static FeedbackLine line(Inquiry inquiry, Feedback feedback) {
        return new FeedbackLine(
                feedback.id(),
                feedback.release(),
                inquiry.estate()
                        .catalogue()
                        .setting(feedback.release())
                        .map(Setting::title)
                        .orElse(feedback.release()),
                feedback.account(),
                inquiry.estate()
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
