package leanladder.server;

import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.time.Instant;
import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import leanladder.change.Ripple;
import leanladder.estate.Account;
import leanladder.estate.Unit;
import leanladder.reach.Directory;
import leanladder.tell.Wording;
import org.roaringbitmap.RoaringBitmap;

/** Tells a ripple: in numbers, setting by setting, and by name. */
record RippleTelling(Ripple ripple, Instant at) {
    private static final String BOTH = "both";

    static ObjectNode counts(Ripple ripple) {
        ObjectNode told = Answers.object()
                .put("accounts", ripple.changed().getCardinality())
                .put("gain", ripple.gainOnly().getCardinality())
                .put("lose", ripple.loseOnly().getCardinality())
                .put(BOTH, ripple.both().getCardinality())
                .put("other", ripple.otherOnly().getCardinality())
                .put("decidedElsewhere", ripple.decidedElsewhere().getCardinality())
                .put("joining", ripple.joining().getCardinality())
                .put("leaving", ripple.leaving().getCardinality())
                .put("blocked", ripple.blocked().getCardinality());
        ArrayNode waiting = told.putArray("waiting");
        for (Ripple.Seats seats : ripple.seats())
            if (seats.waitingAfter() > seats.waitingBefore())
                waiting.addObject()
                        .put("plan", seats.plan().name())
                        .put("more", seats.waitingAfter() - seats.waitingBefore());
        return told;
    }

    /** The counts, and how every setting moves: what the journal keeps of a ripple. */
    ObjectNode summary() {
        Wording wording = new Wording(ripple.after().estate(), at);
        ObjectNode told = counts(ripple);
        ArrayNode moves = told.putArray("moves");
        for (Ripple.Move move : ripple.moves())
            moves.add(move(move, wording).put("accounts", move.accounts().getCardinality()));
        return told;
    }

    /** The whole ripple with a page of people. */
    ObjectNode json(long base, PeoplePage page) {
        Wording wording = new Wording(ripple.after().estate(), at);
        ObjectNode told = Answers.object();
        told.put("base", base);
        told.setAll(summary());
        people(told, page, wording);
        return told;
    }

    static ObjectNode move(Ripple.Move move, Wording wording) {
        return Answers.object()
                .put("setting", move.setting().key())
                .put("title", move.setting().title())
                .put("from", wording.value(move.setting(), move.from()))
                .put("to", wording.value(move.setting(), move.to()))
                .put("effect", word(Optional.of(move.effect())));
    }

    static String word(Optional<Ripple.Effect> effect) {
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

    private void people(ObjectNode told, PeoplePage asked, Wording wording) {
        Directory directory = ripple.after().directory();
        List<Account> accounts =
                directory.byName(asked.effect().map(this::chosen).orElse(ripple.changed()));
        List<Account> page = asked.of(accounts);
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
        told.put("next", asked.next(accounts).orElse(null));
    }
}
