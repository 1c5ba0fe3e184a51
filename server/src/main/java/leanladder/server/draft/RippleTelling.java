package leanladder.server.draft;

import com.fasterxml.jackson.annotation.JsonUnwrapped;
import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Predicate;
import leanladder.catalogue.Setting;
import leanladder.catalogue.Value;
import leanladder.change.Ripple;
import leanladder.estate.Account;
import leanladder.reach.Directory;
import leanladder.server.http.Answers;
import leanladder.server.http.Problem;
import leanladder.server.http.Query;
import leanladder.server.http.Shape;
import leanladder.server.list.AccountPage;
import leanladder.server.live.Proposal;
import leanladder.tell.Wording;
import org.roaringbitmap.RoaringBitmap;

/** Tells a ripple: in numbers, setting by setting, and by name. */
public record RippleTelling(Ripple ripple, Instant at) {
    /** What a ripple does to an account, or to a value. */
    public enum Effect {
        GAIN,
        LOSE,
        BOTH,
        OTHER;

        static Effect of(Optional<Ripple.Effect> effect) {
            return effect.map(e -> valueOf(e.name())).orElse(BOTH);
        }
    }

    /** Counts of accounts; gain, lose, both and other add up to accounts. */
    public record RippleCounts(
            int accounts,
            int gain,
            int lose,
            int both,
            int other,
            int decidedElsewhere,
            int joining,
            int leaving,
            int blocked,
            List<Waiting> waiting) {}

    /** A plan for whose seats more accounts wait than before. */
    public record Waiting(String planId, String plan, int more) {}

    /** How the value of a setting moves, in words and as it is. */
    public record Move(
            String setting,
            String title,
            String from,
            String to,
            @Shape("Value") JsonNode fromValue,
            @Shape("Value") JsonNode toValue,
            Effect effect) {}

    /** The same for so many accounts. */
    public record CountedMove(@JsonUnwrapped Move move, int accounts) {}

    /** The counts, and how every setting moves. */
    public record RippleSummary(@JsonUnwrapped RippleCounts counts, List<CountedMove> moves) {}

    /**
     * What the journal keeps of a ripple.
     *
     * @param touches keys of the settings that the edits can alter, at once or later; null where they are more than 200
     */
    public record KeptRipple(@JsonUnwrapped RippleSummary summary, Optional<List<String>> touches) {}

    private static final int MOST_TOUCHES = 200;

    /** An account that a ripple touches, and what moves for it. */
    public record Rippled(String account, String displayName, String unit, Effect effect, List<Move> changes) {}

    /** A whole ripple with a page of people. @param base the change that the edits are carried onto */
    public record RippleView(
            long base, @JsonUnwrapped RippleSummary summary, List<Rippled> people, Optional<String> next) {}

    /** Of a proposal, now. */
    public static RippleTelling of(Proposal proposal) {
        return new RippleTelling(proposal.ripple(), proposal.now());
    }

    /** In numbers. */
    public static RippleCounts counts(Ripple ripple) {
        List<Waiting> waiting = new ArrayList<>();
        for (Ripple.Seats seats : ripple.seats())
            if (seats.waitingAfter() > seats.waitingBefore())
                waiting.add(new Waiting(
                        seats.plan().id(), seats.plan().name(), seats.waitingAfter() - seats.waitingBefore()));
        return new RippleCounts(
                ripple.changed().getCardinality(),
                ripple.gainOnly().getCardinality(),
                ripple.loseOnly().getCardinality(),
                ripple.both().getCardinality(),
                ripple.otherOnly().getCardinality(),
                ripple.decidedElsewhere().getCardinality(),
                ripple.joining().getCardinality(),
                ripple.leaving().getCardinality(),
                ripple.blocked().getCardinality(),
                waiting);
    }

    /** The counts, and how every setting moves. */
    public RippleSummary summary() {
        Wording wording = new Wording(ripple.after().estate(), at);
        return new RippleSummary(
                counts(ripple),
                ripple.moves().stream().map(m -> counted(m, wording)).toList());
    }

    /** It as the journal keeps it. */
    public JsonNode journalled() {
        Optional<List<String>> touches = Optional.of(ripple.keysAtAnyTime())
                .filter(keys -> keys.size() <= MOST_TOUCHES)
                .map(keys -> keys.stream().sorted().toList());
        return Answers.MAPPER.valueToTree(new KeptRipple(summary(), touches));
    }

    /** The summary in what the journal keeps. */
    public static JsonNode summary(JsonNode journalled) {
        return ((ObjectNode) journalled.deepCopy()).without("touches");
    }

    static CountedMove counted(Ripple.Move move, Wording wording) {
        return new CountedMove(move(move, wording), move.accounts().getCardinality());
    }

    static Move move(Ripple.Move move, Wording wording) {
        return move(move.setting(), move.from(), move.to(), wording);
    }

    /** How a value moves, in words and as it is. */
    public static Move move(Setting setting, Value from, Value to, Wording wording) {
        return new Move(
                setting.key(),
                setting.title(),
                wording.value(setting, from),
                wording.value(setting, to),
                from.json(),
                to.json(),
                Effect.of(Optional.of(Ripple.effect(setting, from, to))));
    }

    /** The whole ripple with a page of people, as the parameters ask for: all, or those of one effect. */
    public RippleView view(long base, Query query) {
        Wording wording = new Wording(ripple.after().estate(), at);
        Directory directory = ripple.after().directory();
        AccountPage asked = AccountPage.of(query);
        List<Account> accounts =
                directory.byName(query.one("effect").map(this::chosen).orElse(ripple.changed()));
        List<Account> page = asked.of(accounts);
        Map<String, List<Move>> changes = new HashMap<>();
        page.forEach(a -> changes.put(a.id(), new ArrayList<>()));
        for (Ripple.Move move : ripple.moves())
            for (Account account : page)
                if (move.accounts().contains(directory.number(account.id())))
                    changes.get(account.id()).add(move(move, wording));
        List<Rippled> people = page.stream()
                .map(a -> new Rippled(
                        a.id(),
                        a.displayName(),
                        AccountPage.place(directory, a.unit()),
                        effectOn(a),
                        changes.get(a.id())))
                .toList();
        return new RippleView(base, summary(), people, asked.next(accounts));
    }

    private RoaringBitmap chosen(String effect) {
        return switch (effect) {
            case "gain" -> ripple.gainOnly();
            case "lose" -> ripple.loseOnly();
            case "both" -> ripple.both();
            case "other" -> ripple.otherOnly();
            default -> throw Problem.wrongInput("The parameter \"effect\" must be gain, lose, both or other.");
        };
    }

    private Effect effectOn(Account account) {
        return Effect.of(ripple.effectOn(ripple.after().directory().number(account.id())));
    }

    /**
     * The people of one part of the ripple, page by page or as comma-separated values; the whole ripple where no part is asked for.
     * Values are told apart by what they are, not by how they read.
     */
    public Object people(long base, Query query) {
        Directory directory = ripple.after().directory();
        Optional<RoaringBitmap> part = part(query);
        Optional<RoaringBitmap> unit = query.one("unit").map(u -> {
            if (ripple.after().estate().unit(u).isEmpty()) throw Problem.unknown("There is no unit \"" + u + "\".");
            return directory.inOrBelow(u);
        });
        if (part.isEmpty() && unit.isEmpty() && query.one("format").isEmpty()) return view(base, query);
        RoaringBitmap whole = part.orElse(ripple.changed());
        return AccountPage.answer(
                query,
                directory,
                unit.map(u -> RoaringBitmap.and(u, whole)).orElse(whole),
                new AccountPage.Extra("effect", a -> Answers.word(effectOn(a))));
    }

    /** The accounts of one move of one setting, those still blocked, joining or leaving; empty when everybody is asked for. */
    private Optional<RoaringBitmap> part(Query query) {
        Optional<String> setting = query.one("setting");
        String part = query.one("part").orElse(setting.isPresent() ? "moved" : "all");
        RoaringBitmap found = new RoaringBitmap();
        switch (part) {
            case "all" -> {
                return Optional.empty();
            }
            case "joining" -> found.or(ripple.joining());
            case "leaving" -> found.or(ripple.leaving());
            case "blocked" ->
                ripple.blocks().stream()
                        .filter(b -> setting.isEmpty() || b.setting().key().equals(setting.get()))
                        .forEach(b -> found.or(b.accounts()));
            case "moved" -> {
                Predicate<Value> from = is(query, "from");
                Predicate<Value> to = is(query, "to");
                ripple.moves().stream()
                        .filter(m -> m.setting().key().equals(setting.orElse("")))
                        .filter(m -> from.test(m.from()) && to.test(m.to()))
                        .forEach(m -> found.or(m.accounts()));
            }
            default ->
                throw Problem.wrongInput("The parameter \"part\" must be all, moved, blocked, joining or leaving.");
        }
        return Optional.of(found);
    }

    private static Predicate<Value> is(Query query, String name) {
        return query.one(name)
                .map(text -> {
                    JsonNode wanted = Values.json(name, text);
                    return (Predicate<Value>) value -> value.json().equals(wanted);
                })
                .orElse(value -> true);
    }
}
