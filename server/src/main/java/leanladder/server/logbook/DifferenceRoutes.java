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
import leanladder.resolve.ColumnResolver;
import leanladder.resolve.EvaluationContext;
import leanladder.server.draft.RippleFormatter;
import leanladder.server.draft.RippleFormatter.MoveCount;
import leanladder.server.http.ProblemException;
import leanladder.server.http.QueryParameters;
import leanladder.server.http.RequestContext;
import leanladder.server.http.Response;
import leanladder.server.http.RouteGroup;
import leanladder.server.http.RouteRegistry;
import leanladder.server.state.Snapshot;
import leanladder.server.state.Timeline;
import leanladder.store.Store;
import leanladder.text.EstateFormatter;
import org.roaringbitmap.RoaringBitmap;

/** What differs between two instants: the changes published between them, and the values in force then and then. */
public record DifferenceRoutes(Store store, Timeline timeline) implements RouteGroup {
    /** What differs. @param accounts whose values differ @param joined accounts that are active only at the end */
    public record Differences(
            Instant from,
            Instant to,
            List<ChangeRoutes.LogbookLine> changes,
            int accounts,
            int joined,
            int left,
            List<MoveCount> moves) {}

    @Override
    public void routes(RouteRegistry routeRegistry) {
        routeRegistry.get("/differences", this::differences, Differences.class);
    }

    private Response differences(RequestContext requestContext) {
        QueryParameters queryParameters = requestContext.query(Set.of("from", "to"));
        queryParameters.required("from");
        queryParameters.required("to");
        ZoneId zone = timeline.present().estate().organisation().zone();
        Instant now = timeline.now();
        Instant from = queryParameters.instant("from", zone).orElse(now);
        Instant to = queryParameters.instant("to", zone).orElse(now);
        if (!from.isBefore(to)) throw ProblemException.wrongInput("The parameter \"from\" must lie before \"to\".");
        Snapshot was = timeline.snapshotAt(from);
        Snapshot is = timeline.snapshotAt(to);
        List<ChangeRoutes.LogbookLine> changes = store.journal().since(was.change()).stream()
                .filter(c -> c.number() <= is.change())
                .map(ChangeRoutes.LogbookLine::of)
                .toList();
        RoaringBitmap changed = new RoaringBitmap();
        List<MoveCount> moves = moves(was, from, is, to, changed);
        return Response.of(new Differences(
                from,
                to,
                changes,
                changed.getCardinality(),
                only(is.directory(), was),
                only(was.directory(), is),
                moves));
    }

    private static List<MoveCount> moves(Snapshot was, Instant from, Snapshot is, Instant to, RoaringBitmap changed) {
        int[] numbers = numbers(was, is);
        EstateFormatter estateFormatter = new EstateFormatter(is.estate(), to);
        List<MoveCount> moves = new ArrayList<>();
        ColumnResolver before = was.resolutionAt(EvaluationContext.at(from)).columnResolver();
        ColumnResolver after = is.resolutionAt(EvaluationContext.at(to)).columnResolver();
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
                    moves.add(new MoveCount(
                            RippleFormatter.move(setting, value, other, estateFormatter), both.getCardinality()));
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
