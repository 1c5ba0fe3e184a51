package leanladder.server.draft;

import com.fasterxml.jackson.annotation.JsonUnwrapped;
import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.function.Predicate;
import leanladder.catalogue.Setting;
import leanladder.catalogue.Value;
import leanladder.estate.Account;
import leanladder.reach.Directory;
import leanladder.ripple.Ripple;
import leanladder.server.http.JsonWriter;
import leanladder.server.http.ProblemException;
import leanladder.server.http.QueryParameters;
import leanladder.server.http.QueryValues;
import leanladder.server.http.description.SchemaRef;
import leanladder.server.paging.AccountPage;
import leanladder.server.state.RebasedDraft;
import leanladder.server.usage.UsageReader;
import leanladder.text.EstateFormatter;
import org.roaringbitmap.RoaringBitmap;

/**
 * Tells a ripple: in numbers, setting by setting, and by name.
 *
 * @param workspaces what the same edits alter inside workspaces, by their ids
 */
public record RippleFormatter(Ripple ripple, Instant at, Map<String, Ripple> workspaces) {
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

    /** How many accounts the same edits affect when they work in a workspace. */
    public record WorkspaceCount(String id, String name, int accounts) {}

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
            List<Waiting> waiting,
            List<WorkspaceCount> inWorkspaces) {}

    /** A plan for whose seats more accounts wait than before. */
    public record Waiting(String planId, String plan, int more) {}

    /** How the value of a setting moves, in words and as it is. */
    public record Move(
            String setting,
            String title,
            String from,
            String to,
            @SchemaRef("Value") JsonNode fromValue,
            @SchemaRef("Value") JsonNode toValue,
            Effect effect) {}

    /** The same for so many accounts. */
    public record MoveCount(@JsonUnwrapped Move move, int accounts) {}

    /** The counts, and how every setting moves. */
    public record RippleSummary(@JsonUnwrapped RippleCounts counts, List<MoveCount> moves) {}

    /**
     * What the journal keeps of a ripple.
     *
     * @param touches keys of the settings that the edits can alter, at once or later; null where they are more than 200
     * @param affected ids of the accounts for which something changes, in workspaces too; null where they are more than 500
     */
    public record JournalledRipple(
            @JsonUnwrapped RippleSummary summary, Optional<List<String>> touches, Optional<List<String>> affected) {}

    private static final int MOST_TOUCHES = 200;
    private static final int MOST_AFFECTED = 500;

    /** An account that a ripple touches, and what moves for it. */
    public record AffectedAccount(String account, String displayName, String unit, Effect effect, List<Move> changes) {}

    /** A whole ripple with a page of people. @param base the change that the edits are carried onto */
    public record RippleView(
            long base, @JsonUnwrapped RippleSummary summary, List<AffectedAccount> people, Optional<String> next) {}

    /** Of a rebased draft, now. */
    public static RippleFormatter from(RebasedDraft rebasedDraft) {
        return new RippleFormatter(
                rebasedDraft.ripple(),
                rebasedDraft.now(),
                Ripple.inWorkspaces(
                        rebasedDraft.editSession(), rebasedDraft.editSession().compile(), rebasedDraft.now()));
    }

    /** In numbers, with those inside workspaces. */
    public RippleCounts counts() {
        List<WorkspaceCount> inWorkspaces = new ArrayList<>();
        workspaces.forEach((id, there) -> {
            if (!there.changed().isEmpty())
                inWorkspaces.add(new WorkspaceCount(
                        id,
                        there.after().estate().workspace(id).orElseThrow().name(),
                        there.changed().getCardinality()));
        });
        return counts(ripple, inWorkspaces);
    }

    /** In numbers, outside of workspaces. */
    public static RippleCounts counts(Ripple ripple) {
        return counts(ripple, List.of());
    }

    private static RippleCounts counts(Ripple ripple, List<WorkspaceCount> inWorkspaces) {
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
                waiting,
                inWorkspaces);
    }

    /** The counts, and how every setting moves. */
    public RippleSummary summary() {
        EstateFormatter estateFormatter = new EstateFormatter(ripple.after().estate(), at);
        return new RippleSummary(
                counts(),
                ripple.moves().stream().map(m -> counted(m, estateFormatter)).toList());
    }

    /** It as the journal keeps it. */
    public JsonNode journalled() {
        Optional<List<String>> touches = Optional.of(ripple.keysAtAnyTime())
                .filter(keys -> keys.size() <= MOST_TOUCHES)
                .map(keys -> keys.stream().sorted().toList());
        return JsonWriter.MAPPER.valueToTree(new JournalledRipple(summary(), touches, affected()));
    }

    private Optional<List<String>> affected() {
        RoaringBitmap affected = RoaringBitmap.or(ripple.changed(), ripple.joining());
        affected.or(ripple.leaving());
        workspaces.values().forEach(there -> affected.or(there.changed()));
        if (affected.getCardinality() > MOST_AFFECTED) return Optional.empty();
        List<String> ids = new ArrayList<>();
        affected.forEach(
                (int n) -> ids.add(ripple.after().directory().account(n).id()));
        return Optional.of(ids);
    }

    /** The summary in what the journal keeps. */
    public static JsonNode summary(JsonNode journalled) {
        ObjectNode summary = ((ObjectNode) journalled.deepCopy()).without(List.of("touches", "affected"));
        // Journals of earlier versions did not count inside workspaces.
        if (!summary.has("inWorkspaces")) summary.putArray("inWorkspaces");
        return summary;
    }

    static MoveCount counted(Ripple.ValueChange valueChange, EstateFormatter estateFormatter) {
        return new MoveCount(
                move(valueChange, estateFormatter), valueChange.accounts().getCardinality());
    }

    static Move move(Ripple.ValueChange valueChange, EstateFormatter estateFormatter) {
        return move(valueChange.setting(), valueChange.from(), valueChange.to(), estateFormatter);
    }

    /** How a value moves, in words and as it is. */
    public static Move move(Setting setting, Value from, Value to, EstateFormatter estateFormatter) {
        return new Move(
                setting.key(),
                setting.title(),
                estateFormatter.value(setting, from),
                estateFormatter.value(setting, to),
                from.json(),
                to.json(),
                Effect.of(Optional.of(Ripple.effect(setting, from, to))));
    }

    /** The whole ripple with a page of people, as the parameters ask for: all, or those of one effect. */
    public RippleView view(long base, QueryParameters queryParameters) {
        EstateFormatter estateFormatter = new EstateFormatter(ripple.after().estate(), at);
        Directory directory = ripple.after().directory();
        AccountPage asked = AccountPage.parse(queryParameters);
        List<Account> accounts =
                directory.byName(queryParameters.one("effect").map(this::chosen).orElse(ripple.changed()));
        List<Account> page = asked.parse(accounts);
        Map<String, List<Move>> changes = new HashMap<>();
        page.forEach(a -> changes.put(a.id(), new ArrayList<>()));
        for (Ripple.ValueChange valueChange : ripple.moves())
            for (Account account : page)
                if (valueChange.accounts().contains(directory.number(account.id())))
                    Objects.requireNonNull(changes.get(account.id())).add(move(valueChange, estateFormatter));
        List<AffectedAccount> people = page.stream()
                .map(a -> new AffectedAccount(
                        a.id(),
                        a.displayName(),
                        AccountPage.place(directory, a.unit()),
                        effectOn(a),
                        Objects.requireNonNull(changes.get(a.id()))))
                .toList();
        return new RippleView(base, summary(), people, asked.next(accounts));
    }

    private RoaringBitmap chosen(String effect) {
        return switch (effect) {
            case "gain" -> ripple.gainOnly();
            case "lose" -> ripple.loseOnly();
            case "both" -> ripple.both();
            case "other" -> ripple.otherOnly();
            default -> throw ProblemException.wrongInput("The parameter \"effect\" must be gain, lose, both or other.");
        };
    }

    private Effect effectOn(Account account) {
        return Effect.of(ripple.effectOn(ripple.after().directory().number(account.id())));
    }

    /**
     * The people of one part of the ripple, page by page or as comma-separated values; the whole ripple where no part is asked for.
     * Values are told apart by what they are, not by how they read.
     */
    public Object people(long base, QueryParameters queryParameters, UsageReader usage) {
        Directory directory = ripple.after().directory();
        Optional<RoaringBitmap> part = part(queryParameters, usage);
        Optional<RoaringBitmap> unit = queryParameters.one("unit").map(u -> {
            if (ripple.after().estate().unit(u).isEmpty())
                throw ProblemException.unknown("There is no unit \"" + u + "\".");
            return directory.inOrBelow(u);
        });
        if (part.isEmpty() && unit.isEmpty() && queryParameters.one("format").isEmpty())
            return view(base, queryParameters);
        RoaringBitmap whole = part.orElse(ripple.changed());
        return AccountPage.answer(
                queryParameters,
                directory,
                unit.map(u -> RoaringBitmap.and(u, whole)).orElse(whole),
                new AccountPage.Extra("effect", a -> JsonWriter.word(effectOn(a))));
    }

    /** The accounts of one move of one setting, those still blocked, joining or leaving; empty when everybody is asked for. */
    private Optional<RoaringBitmap> part(QueryParameters queryParameters, UsageReader usage) {
        Optional<String> setting = queryParameters.one("setting");
        String part = queryParameters.one("part").orElse(setting.isPresent() ? "moved" : "all");
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
            case "used" -> found.or(findUsersWhoLose(setting.orElse(""), usage));
            case "moved" -> {
                Predicate<Value> from = is(queryParameters, "from");
                Predicate<Value> to = is(queryParameters, "to");
                ripple.moves().stream()
                        .filter(m -> m.setting().key().equals(setting.orElse("")))
                        .filter(m -> from.test(m.from()) && to.test(m.to()))
                        .forEach(m -> found.or(m.accounts()));
            }
            default ->
                throw ProblemException.wrongInput(
                        "The parameter \"part\" must be all, moved, used, blocked, joining or leaving.");
        }
        return Optional.of(found);
    }

    /** Those for whom a setting becomes stricter and who used it lately. */
    private RoaringBitmap findUsersWhoLose(String setting, UsageReader usage) {
        RoaringBitmap losing = new RoaringBitmap();
        ripple.moves().stream()
                .filter(m -> m.setting().key().equals(setting))
                .filter(m -> Ripple.effect(m.setting(), m.from(), m.to()) == Ripple.Effect.LOSE)
                .forEach(m -> losing.or(m.accounts()));
        losing.and(usage.users(
                setting, UsageReader.firstRecentDay(at), ripple.after().directory()));
        return losing;
    }

    private static Predicate<Value> is(QueryParameters queryParameters, String name) {
        return queryParameters
                .one(name)
                .map(text -> {
                    JsonNode wanted = QueryValues.json(name, text);
                    return (Predicate<Value>) value -> value.json().equals(wanted);
                })
                .orElse(value -> true);
    }
}
