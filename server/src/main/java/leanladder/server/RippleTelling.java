package leanladder.server;

import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.text.Collator;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import leanladder.change.Ripple;
import leanladder.estate.Account;
import leanladder.estate.Unit;
import leanladder.reach.Directory;
import leanladder.resolve.Wording;
import org.roaringbitmap.RoaringBitmap;

/** Tells a ripple: in numbers, setting by setting, and by name. */
record RippleTelling(Present base, Ripple ripple, Instant at) {
    private static final String BOTH = "both";

    static ObjectNode counts(Ripple ripple) {
        return Answers.object()
                .put("accounts", ripple.changed().getCardinality())
                .put("gain", ripple.gainOnly().getCardinality())
                .put("lose", ripple.loseOnly().getCardinality())
                .put(BOTH, ripple.both().getCardinality())
                .put("other", ripple.otherOnly().getCardinality())
                .put("decidedElsewhere", ripple.decidedElsewhere().getCardinality());
    }

    /** The counts, and how every setting moves: what the journal keeps of a ripple. */
    ObjectNode summary() {
        Wording wording = new Wording(base.ground().estate(), at);
        ObjectNode told = counts(ripple);
        ArrayNode moves = told.putArray("moves");
        for (Ripple.Move move : ripple.moves())
            moves.add(move(move, wording).put("accounts", move.accounts().getCardinality()));
        return told;
    }

    /**
     * The whole ripple with a page of people.
     *
     * @param after the account after which the page starts
     * @param effect only people whom the change touches so: gain, lose, both or other
     */
    ObjectNode json(int limit, Optional<String> after, Optional<String> effect) {
        Wording wording = new Wording(base.ground().estate(), at);
        ObjectNode told = Answers.object();
        told.put("base", base.change());
        told.setAll(summary());
        people(told, limit, after, effect, wording);
        return told;
    }

    private static ObjectNode move(Ripple.Move move, Wording wording) {
        return Answers.object()
                .put("setting", move.setting().key())
                .put("title", move.setting().title())
                .put("from", wording.value(move.setting(), move.from()))
                .put("to", wording.value(move.setting(), move.to()))
                .put("effect", word(Optional.of(move.effect())));
    }

    private static String word(Optional<Ripple.Effect> effect) {
        return effect.map(e -> e.name().toLowerCase(Locale.ROOT)).orElse(BOTH);
    }

    private RoaringBitmap chosen(String effect) {
        return switch (effect) {
            case "gain" -> ripple.gainOnly();
            case "lose" -> ripple.loseOnly();
            case BOTH -> ripple.both();
            case "other" -> ripple.otherOnly();
            default -> throw Problem.wrongInput("The parameter \"effect\" must be gain, lose, both or other.");
        };
    }

    /** The unit with the one above it, for units of one name are many; the organisation goes without saying. */
    static String place(List<Unit> path) {
        return path.stream()
                .skip(path.size() == 1 ? 0 : Math.max(1, path.size() - 2))
                .map(Unit::name)
                .collect(java.util.stream.Collectors.joining(" › "));
    }

    private void people(ObjectNode told, int limit, Optional<String> after, Optional<String> effect, Wording wording) {
        Directory directory = base.ground().directory();
        List<Account> accounts = new ArrayList<>();
        effect.map(this::chosen).orElse(ripple.changed()).forEach((int n) -> accounts.add(directory.account(n)));
        Collator collator = Collator.getInstance(Locale.UK);
        accounts.sort(Comparator.comparing(Account::displayName, collator)
                .thenComparing(Account::id, leanladder.text.CodePointOrder.TEXTS));
        int from = 0;
        if (after.isPresent()) {
            while (from < accounts.size() && !accounts.get(from).id().equals(after.get())) from++;
            if (from == accounts.size())
                throw Problem.wrongInput("The parameter \"after\" names no account of this ripple.");
            from++;
        }
        List<Account> page = accounts.subList(from, Math.min(accounts.size(), from + limit));
        Map<String, ArrayNode> changes = new HashMap<>();
        ArrayNode people = told.putArray("people");
        for (Account account : page) {
            int number = directory.number(account.id());
            ObjectNode person = people.addObject();
            person.put("account", account.id());
            person.put("displayName", account.displayName());
            person.put("unit", place(directory.tree().path(account.unit())));
            person.put("effect", word(ripple.effectOn(number)));
            changes.put(account.id(), person.putArray("changes"));
        }
        for (Ripple.Move move : ripple.moves())
            for (Account account : page)
                if (move.accounts().contains(directory.number(account.id())))
                    changes.get(account.id()).add(move(move, wording));
        told.put(
                "next",
                from + limit < accounts.size() ? page.get(page.size() - 1).id() : null);
    }
}
