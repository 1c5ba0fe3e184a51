package leanladder.server.logbook;

import java.time.Instant;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import leanladder.catalogue.Setting;
import leanladder.catalogue.Value;
import leanladder.estate.Account;
import leanladder.reach.Directory;
import leanladder.resolve.Question;
import leanladder.resolve.Solution;
import leanladder.server.draft.RippleTelling;
import leanladder.server.draft.RippleTelling.CountedMove;
import leanladder.server.http.Answer;
import leanladder.server.http.Api;
import leanladder.server.http.Call;
import leanladder.server.http.Problem;
import leanladder.server.http.Query;
import leanladder.server.http.Room;
import leanladder.server.live.Receipt;
import leanladder.server.live.Snapshot;
import leanladder.server.live.Timeline;
import leanladder.store.Store;
import leanladder.tell.Wording;
import org.roaringbitmap.RoaringBitmap;

/** What differs between two instants: the changes published between them, and the values in force then and then. */
public record DifferenceRoutes(Store store, Timeline timeline) implements Room {
    /** What differs. @param accounts whose values differ @param joined accounts that are active only at the end */
    public record Differences(
            Instant from,
            Instant to,
            List<Receipt> changes,
            int accounts,
            int joined,
            int left,
            List<CountedMove> moves) {}

    @Override
    public void routes(Api api) {
        api.get("/differences", this::differences, Differences.class);
    }

    private Answer differences(Call call) {
        Query query = call.query(Set.of("from", "to"));
        query.required("from");
        query.required("to");
        ZoneId zone = timeline.present().estate().organisation().zone();
        Instant now = timeline.now();
        Instant from = query.instant("from", zone).orElse(now);
        Instant to = query.instant("to", zone).orElse(now);
        if (!from.isBefore(to)) throw Problem.wrongInput("The parameter \"from\" must lie before \"to\".");
        Snapshot was = timeline.standingAt(from);
        Snapshot is = timeline.standingAt(to);
        List<Receipt> changes = store.journal().since(was.change()).stream()
                .filter(c -> c.number() <= is.change())
                .map(Receipt::of)
                .toList();
        RoaringBitmap changed = new RoaringBitmap();
        List<CountedMove> moves = moves(was, from, is, to, changed);
        return Answer.of(new Differences(
                from,
                to,
                changes,
                changed.getCardinality(),
                only(is.directory(), was),
                only(was.directory(), is),
                moves));
    }

    private static List<CountedMove> moves(Snapshot was, Instant from, Snapshot is, Instant to, RoaringBitmap changed) {
        int[] numbers = numbers(was, is);
        Wording wording = new Wording(is.estate(), to);
        List<CountedMove> moves = new ArrayList<>();
        Solution before = was.moment(Question.at(from)).solution();
        Solution after = is.moment(Question.at(to)).solution();
        for (Setting setting : was.estate().catalogue().settings().values()) {
            if (is.estate().catalogue().setting(setting.key()).isEmpty()) continue;
            Map<Value, RoaringBitmap> willBe = after.column(setting.key()).inForce();
            before.column(setting.key()).inForce().forEach((value, accounts) -> {
                RoaringBitmap here = renumbered(accounts, numbers);
                willBe.forEach((other, others) -> {
                    if (other.equals(value)) return;
                    RoaringBitmap both = RoaringBitmap.and(here, others);
                    if (both.isEmpty()) return;
                    changed.or(both);
                    moves.add(
                            new CountedMove(RippleTelling.move(setting, value, other, wording), both.getCardinality()));
                });
            });
        }
        return moves;
    }

    /** How many are active in the one estate and not in the other. */
    private static int only(Directory in, Snapshot other) {
        return (int) in.active().stream()
                .filter(n -> other.estate()
                        .account(in.account(n).id())
                        .filter(Account::active)
                        .isEmpty())
                .count();
    }

    /** For each number of the one estate the number of the same account in the other; -1 for those it does not have. */
    private static int[] numbers(Snapshot was, Snapshot is) {
        Directory old = was.directory();
        Directory now = is.directory();
        if (old == now) return new int[0];
        int[] numbers = new int[old.size()];
        for (int n = 0; n < numbers.length; n++) {
            Optional<Account> same = is.estate().account(old.account(n).id());
            numbers[n] = same.map(a -> now.number(a.id())).orElse(-1);
        }
        return numbers;
    }

    private static RoaringBitmap renumbered(RoaringBitmap accounts, int[] numbers) {
        if (numbers.length == 0) return accounts;
        RoaringBitmap set = new RoaringBitmap();
        accounts.forEach((int n) -> {
            if (numbers[n] >= 0) set.add(numbers[n]);
        });
        return set;
    }
}
