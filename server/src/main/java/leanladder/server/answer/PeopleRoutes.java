package leanladder.server.answer;

import com.fasterxml.jackson.annotation.JsonValue;
import com.fasterxml.jackson.databind.JsonNode;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import leanladder.catalogue.Setting;
import leanladder.catalogue.Value;
import leanladder.estate.Account;
import leanladder.estate.Ring;
import leanladder.estate.Workspace;
import leanladder.reach.Height;
import leanladder.reach.Position;
import leanladder.resolve.Outcome;
import leanladder.resolve.Standing;
import leanladder.seat.Allocation;
import leanladder.server.draft.Inquiry;
import leanladder.server.http.Answer;
import leanladder.server.http.Api;
import leanladder.server.http.Call;
import leanladder.server.http.Query;
import leanladder.server.http.Room;
import leanladder.server.http.Shape;
import leanladder.server.list.Named;
import leanladder.tell.Wording;
import org.roaringbitmap.RoaringBitmap;

/** One account: where it stands, and all its settings beside those of its unit. */
public record PeopleRoutes(Inquiry.Reader inquiries) implements Room {
    /** How an account stands to a plan of which it wants a seat. */
    public enum Seated {
        SEATED("seated"),
        WAITING("waiting"),
        OUT_OF_TERM("out of term");

        private final String word;

        Seated(String word) {
            this.word = word;
        }

        /** The word of the interface. */
        @JsonValue
        public String word() {
            return word;
        }
    }

    /** A plan of which an account wants a seat. */
    public record SeatOf(String planId, String plan, Seated standing) {}

    /** The ring in which an account stands. @param consented the day of its consent, in words */
    public record RingOf(String id, String name, boolean asksConsent, Optional<String> consented) {}

    /** Where an account stands. @param workspace the name of the question's workspace */
    public record AccountView(
            String id,
            String displayName,
            String userName,
            String kind,
            Optional<String> title,
            Optional<String> workspace,
            List<Named> path,
            List<Named> groups,
            List<SeatOf> seats,
            Optional<RingOf> ring,
            List<Named> workspaces) {}

    /**
     * A setting of an account.
     *
     * @param usual what more than half of the unit have, where it differs
     * @param words what else people call the setting
     */
    public record AccountSetting(
            String key,
            String title,
            Optional<String> app,
            String value,
            @Shape("Value") JsonNode inForce,
            String decided,
            Standing standing,
            Height rung,
            boolean differs,
            Optional<String> usual,
            String words) {}

    /** All settings of an account. */
    public record AccountSettings(long change, List<AccountSetting> settings) {}

    @Override
    public void routes(Api api) {
        api.get("/accounts/{id}", this::account, AccountView.class);
        api.get("/accounts/{id}/settings", this::settings, AccountSettings.class);
    }

    private Answer account(Call call) {
        Inquiry inquiry = inquiries.of(call.query(Query.about()));
        Account account = inquiry.account(call.path("id"));
        List<SeatOf> seats = new ArrayList<>();
        int number = inquiry.directory().number(account.id());
        for (Allocation allocation : inquiry.moment().entitlements().allocations()) {
            if (!allocation.claimants().contains(number)) continue;
            boolean seated = allocation.seated().contains(number);
            seats.add(new SeatOf(
                    allocation.plan().id(),
                    allocation.plan().name(),
                    !seated ? Seated.WAITING : allocation.isInTerm() ? Seated.SEATED : Seated.OUT_OF_TERM));
        }
        Position position = new Position(inquiry.directory(), account);
        return Answer.of(new AccountView(
                account.id(),
                account.displayName(),
                account.userName(),
                inquiry.wording().kind(account.kind()),
                account.title(),
                inquiry.question()
                        .workspace()
                        .flatMap(inquiry.estate()::workspace)
                        .map(Workspace::name),
                inquiry.directory().tree().path(account.unit()).stream()
                        .map(u -> new Named(u.id(), u.name()))
                        .toList(),
                position.groups().keySet().stream()
                        .map(g -> new Named(g, inquiry.directory().group(g).name()))
                        .toList(),
                seats,
                ring(inquiry, account),
                inquiry.estate().workspaces().stream()
                        .filter(w -> worksIn(account, position, w))
                        .map(w -> new Named(w.id(), w.name()))
                        .toList()));
    }

    private static boolean worksIn(Account account, Position position, Workspace workspace) {
        return workspace.members().accounts().contains(account.id())
                || workspace.members().groups().stream().anyMatch(position.groups()::containsKey);
    }

    private static Optional<RingOf> ring(Inquiry inquiry, Account account) {
        List<Ring> rings = inquiry.estate().rings();
        if (rings.isEmpty()) return Optional.empty();
        String id = inquiry.estate()
                .catalogue()
                .setting(Setting.RING)
                .map(s -> ((Value.Choice)
                                inquiry.moment().climber(account).outcome(s).value())
                        .option())
                .orElse(rings.get(rings.size() - 1).id());
        Ring ring = rings.stream().filter(r -> r.id().equals(id)).findFirst().orElseThrow();
        return Optional.of(new RingOf(
                ring.id(),
                ring.name(),
                ring.asksConsent(),
                account.consents().stream()
                        .filter(c ->
                                c.isToRing(id) && c.holds(inquiry.question().at()))
                        .findFirst()
                        .map(c -> inquiry.wording().day(c.at()))));
    }

    /** Every setting of the account with its outcome, and whether it differs from what most of its unit have. */
    private Answer settings(Call call) {
        Inquiry inquiry = inquiries.of(call.query(Query.about()));
        Account account = inquiry.account(call.path("id"));
        Wording wording = inquiry.wording();
        int number = inquiry.directory().number(account.id());
        RoaringBitmap unit = RoaringBitmap.and(
                inquiry.directory().inOrBelow(account.unit()),
                inquiry.directory().active());
        var solution = inquiry.moment().solution();
        List<AccountSetting> rows = new ArrayList<>();
        for (Setting setting : inquiry.estate().catalogue().settings().values()) {
            var column = solution.column(setting.key());
            Outcome outcome = column.of(number);
            Optional<Value> usual = usual(column.inForce(), unit).filter(u -> !u.equals(outcome.value()));
            rows.add(new AccountSetting(
                    setting.key(),
                    setting.title(),
                    setting.app(),
                    wording.value(setting, outcome.value()),
                    outcome.value().json(),
                    wording.value(setting, outcome.decided()),
                    outcome.standing(),
                    outcome.rung().height(),
                    usual.isPresent(),
                    usual.map(u -> wording.value(setting, u)),
                    words(setting)));
        }
        return Answer.of(new AccountSettings(inquiry.snapshot().change(), rows));
    }

    private static String words(Setting setting) {
        StringBuilder words = new StringBuilder();
        setting.source().path("words").forEach(w -> words.append(w.asText()).append(' '));
        return words.toString().trim();
    }

    /** The value that more than half of these accounts have. */
    private static Optional<Value> usual(Map<Value, RoaringBitmap> inForce, RoaringBitmap accounts) {
        int half = accounts.getCardinality() / 2;
        return inForce.entrySet().stream()
                .filter(e -> RoaringBitmap.andCardinality(e.getValue(), accounts) > half)
                .map(Map.Entry::getKey)
                .findFirst();
    }
}
