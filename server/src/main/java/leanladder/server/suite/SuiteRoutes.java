package leanladder.server.suite;

import com.fasterxml.jackson.databind.JsonNode;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.util.ArrayList;
import java.util.HexFormat;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import leanladder.catalogue.Setting;
import leanladder.estate.Account;
import leanladder.resolve.Climber;
import leanladder.resolve.Outcome;
import leanladder.resolve.Shown;
import leanladder.server.access.ClientSecret;
import leanladder.server.draft.Inquiry;
import leanladder.server.http.Answer;
import leanladder.server.http.Answers;
import leanladder.server.http.Api;
import leanladder.server.http.Call;
import leanladder.server.http.Problem;
import leanladder.server.http.Room;
import leanladder.server.http.Shape;

/** What a client of the suite fetches for one account: every value in force, and what stands where a feature is not there. */
public record SuiteRoutes(Inquiry.Reader inquiries, ClientSecret secret) implements Room {
    /**
     * A value in force.
     *
     * @param shown whether its control is there; a switch that is off, and whatever is blocked, is greyed or absent as the catalogue says
     * @param notice the sentence that a person reads where it is greyed or absent
     */
    public record Delivered(String key, @Shape("Value") JsonNode value, Shown shown, Optional<String> notice) {}

    /** All values in force of an account, in the workspace that was named. */
    public record Delivery(String account, boolean active, List<Delivered> settings) {}

    @Override
    public void routes(Api api) {
        api.get("/suite/accounts/{id}/settings", this::settings, Delivery.class);
    }

    private Answer settings(Call call) {
        secret.check(call);
        Inquiry inquiry = inquiries.of(call.query(Set.of("workspace")));
        String id = call.path("id");
        Account account =
                inquiry.estate().account(id).orElseThrow(() -> Problem.unknown("There is no account \"" + id + "\"."));
        List<Delivered> settings = new ArrayList<>();
        if (account.active()) {
            Climber climber = inquiry.moment().climber(account);
            for (Setting setting : inquiry.estate().catalogue().settings().values())
                settings.add(delivered(setting, climber.outcome(setting)));
        }
        Delivery delivery = new Delivery(id, account.active(), settings);
        String tag = "\"" + print(Answers.write(delivery)) + "\"";
        boolean known = call.header("If-None-Match")
                .filter(sent ->
                        List.of(sent.split("\\s*,\\s*")).contains(tag) || sent.contains("W/" + tag) || sent.equals("*"))
                .isPresent();
        return (known ? Answer.unchanged() : Answer.of(delivery))
                .with("ETag", tag)
                .with("Cache-Control", "private, no-cache");
    }

    private static Delivered delivered(Setting setting, Outcome outcome) {
        Shown shown = Shown.of(setting, outcome);
        return new Delivered(
                setting.key(),
                outcome.value().json(),
                shown,
                Optional.of(setting.source().path("notice").asText(""))
                        .filter(n -> shown != Shown.THERE && !n.isEmpty()));
    }

    private static String print(byte[] delivery) {
        try {
            byte[] print = MessageDigest.getInstance("SHA-256").digest(delivery);
            return HexFormat.of().formatHex(print, 0, 12);
        } catch (NoSuchAlgorithmException e) {
            throw new IllegalStateException(e);
        }
    }
}
