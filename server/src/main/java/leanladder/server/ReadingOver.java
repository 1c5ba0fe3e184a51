package leanladder.server;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.stream.Collectors;
import leanladder.catalogue.Need;
import leanladder.catalogue.Setting;
import leanladder.change.Ripple;
import leanladder.estate.Account;
import leanladder.estate.Estate;
import leanladder.estate.Policy;
import leanladder.estate.Statement;
import leanladder.estate.Unit;
import leanladder.reach.Directory;
import leanladder.tell.Wording;
import org.roaringbitmap.RoaringBitmap;

/** A draft told as a page that one reads before publishing: what changes, for whom, when, and what is worth a second look. */
record ReadingOver(Carried carried, Estates estates) {
    private static final int UNITS_TOLD = 6;
    private static final int A_FIFTH = 5;

    ObjectNode json() {
        Instant now = estates.now();
        Ripple ripple = carried.ripple();
        Wording wording = new Wording(ripple.after().estate(), now);
        ObjectNode told = Answers.object();
        told.put("base", carried.base().change());
        told.setAll(RippleTelling.counts(ripple));
        told.put("everyone", ripple.before().directory().active().getCardinality());
        ArrayNode moves = told.putArray("moves");
        List<Ripple.Move> largestFirst = new ArrayList<>(ripple.moves());
        largestFirst.sort(
                Comparator.comparingInt((Ripple.Move m) -> m.accounts().getCardinality())
                        .reversed());
        for (Ripple.Move move : largestFirst) {
            ObjectNode one = RippleTelling.move(move, wording);
            one.put("accounts", move.accounts().getCardinality());
            one.set("units", units(ripple.after().directory(), move.accounts()));
            moves.add(one);
        }
        told.set("blockedBy", blocked(ripple, wording));
        told.set("seats", seats(ripple));
        told.set("later", later(now, wording));
        told.set("workspaces", workspaces(now));
        told.set("settling", settling(ripple));
        told.set("cautions", cautions(ripple));
        return told;
    }

    /** Where they are: the lowest unit that holds them all, or the units below it, those with most of them first. */
    private static ArrayNode units(Directory directory, RoaringBitmap accounts) {
        record Part(Unit unit, int accounts) {}
        Unit at = directory.tree().unit(directory.tree().root());
        Optional<Unit> deeper = Optional.of(at);
        while (deeper.isPresent()) {
            at = deeper.get();
            deeper = directory.tree().children(at.id()).stream()
                    .filter(child -> contains(directory.inOrBelow(child.id()), accounts))
                    .findFirst();
        }
        List<Part> parts = new ArrayList<>();
        for (Unit child : directory.tree().children(at.id())) {
            int here = RoaringBitmap.andCardinality(directory.inOrBelow(child.id()), accounts);
            if (here > 0) parts.add(new Part(child, here));
        }
        parts.sort(Comparator.comparingInt(Part::accounts).reversed());
        ArrayNode told = Answers.object().putArray("units");
        if (parts.isEmpty())
            told.addObject()
                    .put("id", at.id())
                    .put("name", RippleTelling.place(directory.tree().path(at.id())))
                    .put("accounts", accounts.getCardinality());
        for (Part part : parts.subList(0, Math.min(UNITS_TOLD, parts.size())))
            told.addObject()
                    .put("id", part.unit.id())
                    .put("name", part.unit.name())
                    .put("accounts", part.accounts);
        return told;
    }

    private static boolean contains(RoaringBitmap whole, RoaringBitmap part) {
        return RoaringBitmap.andCardinality(whole, part) == part.getCardinality();
    }

    private static ArrayNode blocked(Ripple ripple, Wording wording) {
        ArrayNode told = Answers.object().putArray("blockedBy");
        for (Ripple.Block block : ripple.blocks())
            told.addObject()
                    .put("setting", block.setting().key())
                    .put("title", block.setting().title())
                    .put("decided", wording.value(block.setting(), block.decided()))
                    .put(
                            "needs",
                            block.needs().stream().map(n -> need(n, wording)).collect(Collectors.joining("; ")))
                    .put("accounts", block.accounts().getCardinality());
        return told;
    }

    private static String need(Need need, Wording wording) {
        return need instanceof Need.Released
                ? "the release has not come to them, or they have not agreed to previews themselves"
                : wording.need(need);
    }

    private static ArrayNode seats(Ripple ripple) {
        ArrayNode told = Answers.object().putArray("seats");
        for (Ripple.Seats seats : ripple.seats())
            told.addObject()
                    .put("plan", seats.plan().name())
                    .put("seats", seats.plan().seats())
                    .put("given", seats.given().getCardinality())
                    .put("returned", seats.returned().getCardinality())
                    .put("waitingBefore", seats.waitingBefore())
                    .put("waitingAfter", seats.waitingAfter());
        return told;
    }

    private ArrayNode later(Instant now, Wording wording) {
        ArrayNode told = Answers.object().putArray("later");
        for (Ripple.Later then :
                Ripple.later(carried.book(), carried.after().ground(), leanladder.resolve.Question.at(now)))
            told.addObject()
                    .put("at", then.at().toString())
                    .put("when", wording.moment(then.at()))
                    .put("more", then.more().getCardinality())
                    .setAll(RippleTelling.counts(then.ripple()));
        return told;
    }

    private ArrayNode workspaces(Instant now) {
        ArrayNode told = Answers.object().putArray("workspaces");
        Ripple.inWorkspaces(carried.book(), carried.after().ground(), now)
                .forEach((id, ripple) -> told.addObject()
                        .put("id", id)
                        .put(
                                "name",
                                ripple.after()
                                        .estate()
                                        .workspace(id)
                                        .orElseThrow()
                                        .name())
                        .setAll(RippleTelling.counts(ripple)));
        return told;
    }

    /** When what changes will have taken effect, and what people must do, by app; the longest of each app counts. */
    private static ArrayNode settling(Ripple ripple) {
        record Span(long least, long most, String then) {}
        Map<String, Span> byApp = new LinkedHashMap<>();
        var apps = ripple.after().estate().catalogue().apps();
        for (Ripple.Move move : ripple.moves()) {
            JsonNode settles = move.setting().source().path("settles");
            if (!settles.isObject()) continue;
            Span span = new Span(
                    settles.path("minMinutes").asLong(),
                    settles.path("maxMinutes").asLong(),
                    settles.path("then").asText(""));
            String app = move.setting().app().map(apps::get).orElse("Other");
            byApp.merge(
                    app,
                    span,
                    (a, b) -> new Span(
                            Math.min(a.least, b.least), Math.max(a.most, b.most), a.most >= b.most ? a.then : b.then));
        }
        ArrayNode told = Answers.object().putArray("settling");
        byApp.forEach((app, span) -> told.addObject()
                .put("app", app)
                .put("minMinutes", span.least)
                .put("maxMinutes", span.most)
                .put("then", span.then.isEmpty() || span.then.equals("null") ? null : span.then));
        return told;
    }

    private ArrayNode cautions(Ripple ripple) {
        ArrayNode told = Answers.object().putArray("cautions");
        Map<Setting, Integer> loosened = new LinkedHashMap<>();
        for (Ripple.Move move : ripple.moves())
            if (move.effect() == Ripple.Effect.GAIN)
                loosened.merge(move.setting(), move.accounts().getCardinality(), Integer::sum);
        loosened.forEach((setting, accounts) -> Optional.of(
                        setting.source().path("caution").asText(""))
                .filter(c -> !c.isEmpty())
                .ifPresent(c -> told.addObject()
                        .put("what", "loosened")
                        .put("title", setting.title())
                        .put("words", c)
                        .put("accounts", accounts)));
        int everyone = ripple.before().directory().active().getCardinality();
        int touched = ripple.changed().getCardinality();
        if (everyone >= A_FIFTH && touched * (long) A_FIFTH > everyone)
            told.addObject()
                    .put("what", "many")
                    .put("title", "More than a fifth of the organisation")
                    .put("words", Math.round(100.0 * touched / everyone) + " % of all accounts get another value.")
                    .put("accounts", touched);
        for (String title : locked())
            told.addObject()
                    .put("what", "locked")
                    .put("title", title)
                    .put("words", "A lock is put or taken away: whatever stands above it is cut off, or counts again.")
                    .put("accounts", 0);
        oneself(ripple)
                .ifPresent(account -> told.addObject()
                        .put("what", "oneself")
                        .put("title", account.displayName())
                        .put("words", "This changes your own settings.")
                        .put("accounts", 1));
        return told;
    }

    /** Titles of settings on which a locked statement comes, goes or becomes another by the edits. */
    private List<String> locked() {
        Map<String, Statement> before = locked(carried.base().ground().estate());
        Map<String, Statement> after = locked(carried.after().ground().estate());
        Map<String, Statement> all = new LinkedHashMap<>(before);
        all.putAll(after);
        return all.entrySet().stream()
                .filter(e -> !Objects.equals(before.get(e.getKey()), after.get(e.getKey())))
                .map(e -> carried.base()
                        .ground()
                        .estate()
                        .catalogue()
                        .setting(e.getValue().setting()))
                .flatMap(Optional::stream)
                .map(Setting::title)
                .distinct()
                .toList();
    }

    /** The locked statements of policies that are not paused, by policy and setting. */
    private static Map<String, Statement> locked(Estate estate) {
        Map<String, Statement> locked = new LinkedHashMap<>();
        for (Policy policy : estate.policies())
            if (policy.live())
                for (Statement statement : policy.statements())
                    if (statement instanceof Statement.Set set && set.lock())
                        locked.put(policy.id() + " " + statement.setting(), statement);
        return locked;
    }

    private Optional<Account> oneself(Ripple ripple) {
        String author = estates.author().toLowerCase(Locale.ROOT);
        Directory directory = ripple.after().directory();
        for (int n : RoaringBitmap.or(ripple.changed(), ripple.leaving()).toArray()) {
            Account account = directory.account(n);
            if (account.displayName().toLowerCase(Locale.ROOT).equals(author)
                    || account.userName().toLowerCase(Locale.ROOT).equals(author)) return Optional.of(account);
        }
        return Optional.empty();
    }
}
