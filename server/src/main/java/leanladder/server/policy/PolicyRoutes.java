package leanladder.server.policy;

import com.fasterxml.jackson.annotation.JsonProperty;
import com.fasterxml.jackson.annotation.JsonUnwrapped;
import com.fasterxml.jackson.databind.JsonNode;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Predicate;
import leanladder.catalogue.Merge;
import leanladder.catalogue.Need;
import leanladder.catalogue.Setting;
import leanladder.estate.Account;
import leanladder.estate.Assignment;
import leanladder.estate.Policy;
import leanladder.estate.Statement;
import leanladder.estate.Target;
import leanladder.reach.Position;
import leanladder.reach.ReachedSets;
import leanladder.reach.Rung;
import leanladder.reach.Way;
import leanladder.resolve.Column;
import leanladder.resolve.Missed;
import leanladder.resolve.Outcome;
import leanladder.resolve.Share;
import leanladder.resolve.Verdict;
import leanladder.server.draft.Inquiry;
import leanladder.server.http.Answer;
import leanladder.server.http.Api;
import leanladder.server.http.Call;
import leanladder.server.http.Problem;
import leanladder.server.http.Query;
import leanladder.server.http.Room;
import leanladder.server.http.Shape;
import leanladder.server.list.AccountPage;
import leanladder.server.list.SearchWords;
import leanladder.tell.Wording;
import org.roaringbitmap.RoaringBitmap;

/** Policies in their ranking, as sentences and whole; whom each reaches, and which reach whom. */
public record PolicyRoutes(Inquiry.Reader inquiries) implements Room {
    private static final int PEOPLE_SHOWN = 500;
    private static final int MOST_PEOPLE = 5000;

    /** A policy as a sentence. @param forWhom in words @param reaches how many @param inWorkspaces whether it speaks in some */
    public record PolicyLine(
            String id,
            String name,
            Optional<String> description,
            boolean live,
            int statements,
            @JsonProperty("for") String forWhom,
            int reaches,
            boolean inWorkspaces) {}

    /** All policies in their ranking. */
    public record Policies(long change, List<PolicyLine> policies) {}

    /** What a policy says on a setting. */
    public record Saying(String setting, String title, Optional<String> app, boolean cap, boolean lock, String value) {}

    /** A policy, whole. @param names what its targets are called, by the target as it is written */
    public record PolicyView(
            @JsonUnwrapped PolicyLine line,
            long change,
            @Shape("Policy") JsonNode policy,
            Map<String, String> names,
            List<Saying> says) {}

    /** An account that a policy reaches, with the way in, or that it names and does not reach, with the reason. */
    public record Reached(
            String account, String displayName, String unit, Optional<String> way, Optional<String> reason) {}

    /** Whom a policy reaches, and whom not. @param fitting how many of those shown fit the words */
    public record Reaches(int reached, int leftOut, int fitting, List<Reached> people) {}

    /** How many, by what. */
    public record CountedBy(String by, int accounts) {}

    /**
     * What a statement comes to.
     *
     * @param adds accounts whose gathered list it adds to, while another statement decides
     * @param unlicensed whether it is blocked for some because they lack a licence
     */
    public record DoesLine(
            String setting,
            boolean cap,
            int decides,
            int adds,
            List<CountedBy> outranked,
            List<CountedBy> blocked,
            boolean unlicensed) {}

    /** What a policy's statements come to. */
    public record Does(int reached, List<DoesLine> does) {}

    /** How a policy stands to one account. */
    public enum PolicyStanding {
        REACHES,
        EXCEPTED,
        EARLY,
        ENDED,
        PAUSED;

        static PolicyStanding of(Verdict verdict) {
            return switch (verdict) {
                case EARLY -> EARLY;
                case ENDED -> ENDED;
                case PAUSED -> PAUSED;
                default -> EXCEPTED;
            };
        }
    }

    /**
     * A policy that reaches an account, or names it and does not.
     *
     * @param way by what it reaches, or would
     * @param reason why it does not
     * @param assignment the one that names the account itself, as it is written
     */
    public record PolicyFor(
            String policy,
            String name,
            PolicyStanding standing,
            String way,
            Optional<String> reason,
            int statements,
            Optional<@Shape("Assignment") JsonNode> assignment) {}

    /** Every policy that reaches an account or leaves it out, in the ranking. */
    public record PoliciesFor(String account, List<PolicyFor> policies) {}

    @Override
    public void routes(Api api) {
        api.get("/policies", this::list, Policies.class);
        api.get("/policies/{id}", this::one, PolicyView.class);
        api.get("/policies/{id}/reaches", this::reaches, Reaches.class);
        api.get("/policies/{id}/does", this::does, Does.class);
        api.get("/accounts/{id}/policies", this::forAccount, PoliciesFor.class);
    }

    private Answer list(Call call) {
        Inquiry inquiry = inquiries.of(call.query(Query.about()));
        PolicyWords words = new PolicyWords(inquiry);
        return Answer.of(new Policies(
                inquiry.snapshot().change(),
                inquiry.estate().policies().stream()
                        .map(p -> line(p, inquiry, words))
                        .toList()));
    }

    private static PolicyLine line(Policy policy, Inquiry inquiry, PolicyWords words) {
        return new PolicyLine(
                policy.id(),
                policy.name(),
                Optional.ofNullable(policy.source().path("description").asText(null)),
                policy.live(),
                policy.statements().size(),
                words.forWhom(policy),
                inquiry.moment().reached(policy).everyone().getCardinality(),
                policy.live()
                        && policy.assignments().stream()
                                .anyMatch(a -> a.include()
                                        && a.target() instanceof Target.OfWorkspace
                                        && a.window().holds(inquiry.question().at())));
    }

    private Answer one(Call call) {
        Inquiry inquiry = inquiries.of(call.query(Query.about()));
        Policy policy = policy(inquiry, call.path("id"));
        PolicyWords words = new PolicyWords(inquiry);
        Map<String, String> names = new LinkedHashMap<>();
        policy.assignments().forEach(a -> names.put(a.target().text(), words.name(a.target())));
        List<Saying> says = new ArrayList<>();
        for (Statement statement : policy.statements()) {
            Setting setting = inquiry.setting(statement.setting());
            says.add(new Saying(
                    setting.key(),
                    setting.title(),
                    inquiry.app(setting),
                    statement instanceof Statement.Cap,
                    statement instanceof Statement.Set set && set.lock(),
                    words.wording().value(setting, statement.value())));
        }
        return Answer.of(new PolicyView(
                line(policy, inquiry, words), inquiry.snapshot().change(), policy.source(), names, says));
    }

    private static Policy policy(Inquiry inquiry, String id) {
        return inquiry.estate().policy(id).orElseThrow(() -> Problem.unknown("There is no policy \"" + id + "\"."));
    }

    /** Everyone a policy reaches, each with the way in; or everyone it names and does not reach, each with the reason. */
    private Answer reaches(Call call) {
        Query query = call.query(Query.about("show", "q", "limit", "format"));
        Inquiry inquiry = inquiries.of(query);
        Policy policy = policy(inquiry, call.path("id"));
        boolean reached = !query.word("show", List.of("reached", "left-out")).equals(Optional.of("left-out"));
        RoaringBitmap in = inquiry.moment().reached(policy).everyone();
        RoaringBitmap out = new RoaringBitmap();
        policy.assignments().stream()
                .filter(Assignment::include)
                .forEach(a -> out.or(inquiry.directory().holding(a.target())));
        out.and(inquiry.directory().active());
        out.andNot(in);
        List<Account> shown = inquiry.directory().byName(reached ? in : out);
        PolicyWords words = new PolicyWords(inquiry);
        if (query.isCsv())
            return Answer.of(AccountPage.csv(
                    shown, inquiry.directory(), new AccountPage.Extra(reached ? "way in" : "left out because", a -> {
                        Reached one = reached(inquiry, policy, a, reached, words);
                        return one.way.or(one::reason).orElse("");
                    })));
        Predicate<String> fits = SearchWords.fitting(query.one("q").orElse(""));
        List<Account> fitting = shown.stream()
                .filter(a -> fits.test(a.displayName() + " " + a.userName()))
                .toList();
        return Answer.of(new Reaches(
                in.getCardinality(),
                out.getCardinality(),
                fitting.size(),
                fitting.stream()
                        .limit(query.number("limit", PEOPLE_SHOWN, MOST_PEOPLE))
                        .map(a -> reached(inquiry, policy, a, reached, words))
                        .toList()));
    }

    private static Reached reached(
            Inquiry inquiry, Policy policy, Account account, boolean reached, PolicyWords words) {
        Position position = new Position(inquiry.directory(), account);
        Optional<String> way = reached ? way(inquiry, policy, position).map(words::way) : Optional.empty();
        Optional<String> reason = reached
                ? Optional.empty()
                : Optional.of(missed(inquiry, policy, position)
                        .map(m -> words.wording().missed(m) + ", else by " + words.way(m.way()))
                        .orElse("not reached"));
        return new Reached(
                account.id(),
                account.displayName(),
                AccountPage.place(inquiry.directory(), account.unit()),
                way,
                reason);
    }

    private static Optional<Way> way(Inquiry inquiry, Policy policy, Position position) {
        return position.reach(
                policy.assignments(),
                inquiry.question().workspace(),
                a -> a.window().holds(inquiry.question().at()));
    }

    private static Optional<Missed> missed(Inquiry inquiry, Policy policy, Position position) {
        return Missed.of(
                policy,
                position,
                inquiry.question().workspace(),
                inquiry.question().at());
    }

    /** What is this one in? Every policy that reaches an account, by which way, and those that leave it out, with the reason. */
    private Answer forAccount(Call call) {
        Inquiry inquiry = inquiries.of(call.query(Query.about()));
        Account account = inquiry.account(call.path("id"));
        Position position = new Position(inquiry.directory(), account);
        PolicyWords words = new PolicyWords(inquiry);
        List<PolicyFor> policies = new ArrayList<>();
        for (Policy policy : inquiry.estate().policies()) {
            Optional<Way> way = policy.live() ? way(inquiry, policy, position) : Optional.empty();
            Optional<Missed> missed = way.isPresent() ? Optional.empty() : missed(inquiry, policy, position);
            if (way.isEmpty() && missed.isEmpty()) continue;
            policies.add(new PolicyFor(
                    policy.id(),
                    policy.name(),
                    way.isPresent()
                            ? PolicyStanding.REACHES
                            : PolicyStanding.of(missed.get().verdict()),
                    words.way(way.orElseGet(() -> missed.get().way())),
                    missed.map(words.wording()::missed),
                    policy.statements().size(),
                    naming(policy, "account:" + account.id())));
        }
        return Answer.of(new PoliciesFor(account.id(), policies));
    }

    /** The assignment of a policy that names a target itself, as it is written. */
    private static Optional<JsonNode> naming(Policy policy, String target) {
        for (JsonNode assignment : policy.source().path("assignments"))
            if (assignment.path("include").asText().equals(target)
                    || assignment.path("except").asText().equals(target)) return Optional.of(assignment);
        return Optional.empty();
    }

    /** What a policy's statements come to: for how many of those reached each decides, adds, is outranked, or is blocked. */
    private Answer does(Call call) {
        Inquiry inquiry = inquiries.of(call.query(Query.about()));
        Policy policy = policy(inquiry, call.path("id"));
        ReachedSets inWorkspace = inquiry.moment().reached(policy);
        ReachedSets elsewhere = inquiry.moment().reachedAnywhere(policy);
        List<DoesLine> does = new ArrayList<>();
        for (Statement statement : policy.statements()) {
            Setting setting = inquiry.setting(statement.setting());
            ReachedSets reached = setting.openToWorkspaces() ? inWorkspace : elsewhere;
            does.add(new Effect(statement, setting, policy, reached, inquiry).told());
        }
        return Answer.of(new Does(inWorkspace.everyone().getCardinality(), does));
    }

    /** One statement, and what it comes to for those whom its policy reaches. */
    private record Effect(Statement statement, Setting setting, Policy policy, ReachedSets reached, Inquiry inquiry) {
        DoesLine told() {
            Wording wording = inquiry.wording();
            PolicyWords words = new PolicyWords(inquiry, wording);
            Column column = inquiry.moment().solution().column(setting.key());
            boolean cap = statement instanceof Statement.Cap;
            int decides = 0;
            int adds = 0;
            Map<String, Integer> outranked = new LinkedHashMap<>();
            Map<String, Integer> blocked = new LinkedHashMap<>();
            boolean unlicensed = false;
            for (var onRung : reached.byRung().entrySet())
                for (Share<Outcome> share : column.shares()) {
                    int here = RoaringBitmap.andCardinality(share.accounts(), onRung.getValue());
                    if (here == 0) continue;
                    Outcome outcome = share.what();
                    Optional<String> by = cap ? outcome.cappedBy() : outcome.policy();
                    if (by.equals(Optional.of(policy.id()))) {
                        decides += here;
                        for (Need need : outcome.blockedBy()) {
                            blocked.merge(wording.need(need), here, Integer::sum);
                            unlicensed |= need instanceof Need.Entitlement;
                        }
                    } else if (!cap && addsTo(outcome, onRung.getKey())) adds += here;
                    else if (!cap) outranked.merge(words.policy(by).orElse("the built-in value"), here, Integer::sum);
                }
            return new DoesLine(setting.key(), cap, decides, adds, counted(outranked), counted(blocked), unlicensed);
        }

        /** Whether a list that another statement decides gathers this one too (resolution.md, section 4, step 4). */
        private boolean addsTo(Outcome outcome, Rung rung) {
            if (setting.merge() != Merge.GATHER) return false;
            boolean locked = outcome.policy()
                    .flatMap(inquiry.estate()::policy)
                    .filter(p -> p.on(setting.key()).anyMatch(s -> s instanceof Statement.Set set && set.lock()))
                    .isPresent();
            boolean mine = statement instanceof Statement.Set set && set.lock();
            int against = rung.compareTo(outcome.rung());
            return !locked || against < 0 || against == 0 && mine;
        }

        private static List<CountedBy> counted(Map<String, Integer> counts) {
            return counts.entrySet().stream()
                    .sorted(Map.Entry.<String, Integer>comparingByValue().reversed())
                    .map(e -> new CountedBy(e.getKey(), e.getValue()))
                    .toList();
        }
    }
}
