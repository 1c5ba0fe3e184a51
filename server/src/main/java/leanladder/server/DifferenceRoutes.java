package leanladder.server;

import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import io.javalin.http.Context;
import java.io.IOException;
import java.time.Instant;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import leanladder.catalogue.Setting;
import leanladder.catalogue.Value;
import leanladder.estate.Account;
import leanladder.reach.Directory;
import leanladder.resolve.Question;
import leanladder.store.Change;
import leanladder.tell.Wording;
import org.roaringbitmap.RoaringBitmap;

/** What differs between two instants: the changes published between them, and the values in force then and then. */
record DifferenceRoutes(Estates estates) {
    void differences(Context ctx) throws IOException {
        Query query = new Query(ctx, estates.now(), Set.of("from", "to"), Set.of());
        Instant from = query.instant("from", estates);
        Instant to = query.instant("to", estates);
        if (!from.isBefore(to)) throw Problem.wrongInput("The parameter \"from\" must lie before \"to\".");
        Present was = estates.standingAt(from);
        Present is = estates.standingAt(to);
        ObjectNode told = Answers.object().put("from", from.toString()).put("to", to.toString());
        ArrayNode changes = told.putArray("changes");
        for (Change change : estates.since(was.change()))
            if (change.number() <= is.change()) changes.add(ChangeRoutes.receipt(change));
        values(told, was, from, is, to);
        Answers.json(ctx, told);
    }

    private static void values(ObjectNode told, Present was, Instant from, Present is, Instant to) {
        Directory old = was.ground().directory();
        Directory now = is.ground().directory();
        int[] numbers = numbers(was, is);
        RoaringBitmap changed = new RoaringBitmap();
        Wording wording = new Wording(is.ground().estate(), to);
        ArrayNode moves = Answers.object().putArray("moves");
        Map<Setting, Map<Value, RoaringBitmap>> before = new LinkedHashMap<>();
        was.moment(Question.at(from)).solve(solution -> {
            for (Setting setting : was.ground().estate().catalogue().settings().values())
                before.put(setting, solution.column(setting.key()).inForce());
            return null;
        });
        is.moment(Question.at(to)).solve(solution -> {
            before.forEach((setting, values) -> {
                if (is.ground().estate().catalogue().setting(setting.key()).isEmpty()) return;
                var after = solution.column(setting.key()).inForce();
                values.forEach((value, accounts) -> {
                    RoaringBitmap here = renumbered(accounts, numbers);
                    after.forEach((other, others) -> {
                        if (other.equals(value)) return;
                        RoaringBitmap both = RoaringBitmap.and(here, others);
                        if (both.isEmpty()) return;
                        changed.or(both);
                        moves.addObject()
                                .put("setting", setting.key())
                                .put("title", setting.title())
                                .put("from", wording.value(setting, value))
                                .put("to", wording.value(setting, other))
                                .put(
                                        "effect",
                                        setting.strictness()
                                                .map(s -> s.isLooser(other, value) ? "gain" : "lose")
                                                .orElse("other"))
                                .put("accounts", both.getCardinality());
                    });
                });
            });
            return null;
        });
        told.put("accounts", changed.getCardinality());
        told.put(
                "joined",
                now.active().stream()
                        .filter(n -> !wasActive(was, now.account(n)))
                        .count());
        told.put(
                "left",
                old.active().stream()
                        .filter(n -> !wasActive(is, old.account(n)))
                        .count());
        told.set("moves", moves);
    }

    private static boolean wasActive(Present in, Account account) {
        return in.ground()
                .estate()
                .account(account.id())
                .filter(Account::active)
                .isPresent();
    }

    /** For each number of the one estate the number of the same account in the other; -1 for those it does not have. */
    private static int[] numbers(Present was, Present is) {
        Directory old = was.ground().directory();
        Directory now = is.ground().directory();
        if (old == now) return new int[0];
        int[] numbers = new int[old.size()];
        for (int n = 0; n < numbers.length; n++) {
            Optional<Account> same = is.ground().estate().account(old.account(n).id());
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
