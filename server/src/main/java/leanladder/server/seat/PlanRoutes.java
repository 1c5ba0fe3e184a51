package leanladder.server.seat;

import com.fasterxml.jackson.annotation.JsonInclude;
import java.io.IOException;
import java.time.Instant;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.regex.Pattern;
import leanladder.change.Book;
import leanladder.estate.Account;
import leanladder.estate.Plan;
import leanladder.seat.Allocation;
import leanladder.server.draft.Inquiry;
import leanladder.server.http.Answer;
import leanladder.server.http.Api;
import leanladder.server.http.Call;
import leanladder.server.http.Csv;
import leanladder.server.http.Limits;
import leanladder.server.http.Problem;
import leanladder.server.http.Query;
import leanladder.server.http.Room;
import leanladder.server.lines.CsvLines;
import leanladder.server.lines.LineReport;
import leanladder.server.list.AccountPage;
import leanladder.server.list.SearchWords;
import leanladder.server.live.Timeline;
import leanladder.server.seat.Findings.Worth;
import leanladder.server.seat.Plans.PlanLine;
import leanladder.server.seat.Plans.PlanView;
import leanladder.server.today.Matter;
import leanladder.server.today.Matters;
import leanladder.store.Store;
import leanladder.store.journal.Change;
import leanladder.store.seats.MovedSeat;
import leanladder.store.seats.SeatTable;

/** Licence plans: what was bought, who holds a seat, who waits, what comes, and what became of the seats. */
public record PlanRoutes(Store store, Timeline timeline, Inquiry.Reader inquiries) implements Room, Matters {
    private static final Pattern DIGITS = Pattern.compile("\\d+");
    private static final int LONGEST = 12;
    private static final int MOVES_SHOWN = 200;
    private static final int MOVES_MOST = 2000;

    /** All plans in short, by name, and what is worth looking at. */
    public record PlanList(List<PlanLine> plans, List<Worth> worth) {}

    /**
     * Somebody who has a seat, or wants one.
     *
     * @param since when the seat is held; missing for who waits
     * @param lastSeen the day on which the account used the suite last, where that is known
     * @param rule the first rule that names the account, from 1; 0 where none does
     * @param ruleWords whom that rule names
     * @param place in the line of those who wait, from 1; 0 for who is seated
     */
    public record Claim(
            String account,
            String displayName,
            String unit,

            @JsonInclude(JsonInclude.Include.NON_ABSENT) Optional<Instant> since,

            @JsonInclude(JsonInclude.Include.NON_ABSENT) Optional<LocalDate> lastSeen,

            int rule,
            String ruleWords,
            int place) {}

    /** A page of claims. @param next to be sent as after; null on the last page */
    public record Claims(int accounts, List<Claim> claims, Optional<String> next) {}

    /** A seat that passed on. @param author of the change that moved it */
    public record Passed(
            long change,
            Instant at,
            String author,
            String plan,
            String planName,
            String account,
            String displayName,
            boolean given,
            String because) {}

    /** Seats that passed on, the newest first. */
    public record PassedList(List<Passed> moves) {}

    @Override
    public List<Matter> of(Inquiry inquiry) {
        return Findings.today(inquiry);
    }

    @Override
    public void routes(Api api) {
        api.get("/plans", this::list, PlanList.class);
        api.get("/plans/{plan}", this::one, PlanView.class);
        api.get("/plans/{plan}/claims", this::claims, Claims.class);
        api.get("/plans/{plan}/moves", this::moves, PassedList.class);
        api.get("/plans/{plan}/purchases", this::purchases);
        api.get("/plans/{plan}/rules", this::rules);
        api.ask("/plans/{plan}/imports/{what}", this::read, LineReport.Imported.class);
        api.get("/changes/{number}/seats", this::movedBy, PassedList.class);
    }

    private Answer list(Call call) {
        Inquiry inquiry = inquiries.of(call.query(Query.about()));
        return Answer.of(new PlanList(
                inquiry.moment().entitlements().allocations().stream()
                        .map(a -> Plans.line(inquiry, a))
                        .sorted(java.util.Comparator.comparing(PlanLine::name, PlanRoutes::asRead)
                                .thenComparing(PlanLine::id))
                        .toList(),
                Findings.of(inquiry)));
    }

    /** Names in the order in which people read them: 2 comes before 10. */
    private static int asRead(String one, String other) {
        return padded(one).compareToIgnoreCase(padded(other));
    }

    private static String padded(String name) {
        return DIGITS.matcher(name)
                .replaceAll(m -> "0".repeat(Math.max(0, LONGEST - m.group().length())) + m.group());
    }

    private static Allocation allocation(Call call, Inquiry inquiry) {
        String id = call.path("plan");
        return inquiry.moment()
                .entitlements()
                .allocation(id)
                .orElseThrow(() -> Problem.unknown("There is no plan \"" + id + "\"."));
    }

    private Answer one(Call call) {
        Inquiry inquiry = inquiries.of(call.query(Query.about()));
        return Answer.of(Plans.view(inquiry, allocation(call, inquiry)));
    }

    private Answer claims(Call call) {
        Query query = call.query(Query.about("which", "q", "limit", "after", "format"));
        Inquiry inquiry = inquiries.of(query);
        Allocation allocation = allocation(call, inquiry);
        boolean waiting =
                query.word("which", List.of("held", "waiting")).orElse("held").equals("waiting");
        List<String> ids = waiting ? allocation.waiting() : allocation.seatedInOrder();
        Map<String, Integer> places = new HashMap<>();
        if (waiting) for (String id : ids) places.put(id, places.size() + 1);
        var fits = SearchWords.fitting(query.one("q").orElse(""));
        List<Account> accounts = ids.stream()
                .map(id -> inquiry.estate().account(id).orElseThrow())
                .filter(a -> fits.test(a.displayName() + " " + a.userName()))
                .toList();
        if (query.isCsv())
            return Answer.of(new Csv(
                    allocation.plan().id() + (waiting ? "-waiting.csv" : "-holders.csv"),
                    List.of("name", "address", "unit", waiting ? "place" : "since", "last seen", "rule"),
                    AccountPage.lines(accounts, a -> {
                        Claim claim = claim(inquiry, allocation, a, places);
                        return Csv.line(
                                a.displayName(),
                                a.userName(),
                                claim.unit,
                                waiting
                                        ? String.valueOf(claim.place)
                                        : claim.since.map(Instant::toString).orElse(""),
                                claim.lastSeen.map(LocalDate::toString).orElse(""),
                                claim.ruleWords);
                    })));
        AccountPage page = AccountPage.of(query);
        return Answer.of(new Claims(
                accounts.size(),
                page.of(accounts).stream()
                        .map(a -> claim(inquiry, allocation, a, places))
                        .toList(),
                page.next(accounts)));
    }

    private static Claim claim(Inquiry inquiry, Allocation allocation, Account account, Map<String, Integer> places) {
        int number = inquiry.directory().number(account.id());
        Plan plan = allocation.plan();
        int rule = allocation.firstRule(number).orElse(0);
        return new Claim(
                account.id(),
                account.displayName(),
                AccountPage.place(inquiry.directory(), account.unit()),
                allocation.granted(number),
                account.lastSeen(),
                rule,
                rule == 0
                        ? ""
                        : Plans.name(
                                inquiry, plan.rules().get(rule - 1).assignment().target()),
                places.getOrDefault(account.id(), 0));
    }

    private Answer moves(Call call) {
        Query query = call.query(Set.of("limit"));
        String plan = call.path("plan");
        List<SeatTable.Passed> passed = store.seats().ofPlan(plan, query.number("limit", MOVES_SHOWN, MOVES_MOST));
        return Answer.of(new PassedList(told(passed)));
    }

    private Answer movedBy(Call call) {
        call.query(Set.of());
        String text = call.path("number");
        if (!text.matches("\\d{1,18}")) throw Problem.unknown("There is no change \"" + text + "\".");
        long number = Long.parseLong(text);
        if (store.journal().change(number).isEmpty()) throw Problem.unknown("There is no change " + number + ".");
        return Answer.of(new PassedList(told(store.seats().movedBy(number).stream()
                .map(m -> new SeatTable.Passed(number, m))
                .toList())));
    }

    /** Names as they are now; of what is no more, the id. */
    private List<Passed> told(List<SeatTable.Passed> passed) {
        Inquiry now = inquiries.of(Query.none());
        Map<Long, Optional<Change>> changes = new HashMap<>();
        List<Passed> told = new ArrayList<>();
        for (SeatTable.Passed one : passed) {
            MovedSeat seat = one.seat();
            Optional<Change> change = changes.computeIfAbsent(one.change(), store.journal()::change);
            told.add(new Passed(
                    one.change(),
                    change.map(Change::at).orElse(Instant.EPOCH),
                    change.map(Change::author).orElse(""),
                    seat.plan(),
                    now.estate().plan(seat.plan()).map(Plan::name).orElse(seat.plan()),
                    seat.account(),
                    now.estate()
                            .account(seat.account())
                            .map(Account::displayName)
                            .orElse(seat.account()),
                    seat.given(),
                    seat.because()));
        }
        return told;
    }

    private Answer purchases(Call call) {
        Inquiry inquiry = inquiries.of(call.query(Query.about("format")));
        PlanView view = Plans.view(inquiry, allocation(call, inquiry));
        return Answer.of(new Csv(
                view.plan().id() + "-purchases.csv",
                List.of("seats", "from", "until", "note"),
                AccountPage.lines(
                        view.purchases(),
                        p -> Csv.line(
                                String.valueOf(p.seats()),
                                p.from().map(Instant::toString).orElse(""),
                                p.until().map(Instant::toString).orElse(""),
                                p.note()))));
    }

    private Answer read(Call call) throws IOException {
        Query query = call.query(Set.of("draft", "name"));
        String what = call.path("what");
        if (!List.of("rules", "purchases").contains(what))
            throw Problem.unknown("Only rules and purchases of a plan can be read from a file.");
        Inquiry inquiry = inquiries.of(query);
        String plan = allocation(call, inquiry).plan().id();
        Book book = timeline.book(inquiry.snapshot());
        List<CsvLines.Line> lines = CsvLines.of(call.body(Limits.FILE));
        PlanLines reader = new PlanLines(inquiry.estate(), book, plan, lines);
        return Answer.of(LineReport.of(
                lines,
                book,
                query.one("name").orElse("a file"),
                what.equals("rules") ? reader::rule : reader::purchase));
    }

    private Answer rules(Call call) {
        Inquiry inquiry = inquiries.of(call.query(Query.about("format")));
        PlanView view = Plans.view(inquiry, allocation(call, inquiry));
        return Answer.of(new Csv(
                view.plan().id() + "-rules.csv",
                List.of("kind", "target", "name", "off", "from", "until", "accounts"),
                AccountPage.lines(
                        view.rules(),
                        r -> Csv.line(
                                r.include() ? "include" : "except",
                                r.target(),
                                r.whom(),
                                String.join(
                                        " ", r.off().stream().map(o -> o.id()).toList()),
                                r.from().map(Instant::toString).orElse(""),
                                r.until().map(Instant::toString).orElse(""),
                                String.valueOf(r.accounts())))));
    }
}
