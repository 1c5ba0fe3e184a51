package leanladder.text;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.stream.Collectors;
import leanladder.catalogue.Merge;
import leanladder.catalogue.Setting;
import leanladder.catalogue.Value;
import leanladder.estate.Statement;
import leanladder.estate.Unit;
import leanladder.reach.MatchPath;
import leanladder.reach.RungKind;
import leanladder.resolve.Climb;
import leanladder.resolve.CompiledEstate;
import leanladder.resolve.NonMatchReason;
import leanladder.resolve.Outcome;
import leanladder.resolve.Verdict;

/** Tells a climb in sentences: the outcome, and for each statement the few words that say what became of it. */
public final class ClimbFormatter {
    private static final List<String> ORDINALS = List.of("first", "second", "third", "fourth", "fifth");

    private final CompiledEstate compiledEstate;
    private final Climb climb;
    private final EstateFormatter estateFormatter;
    private final EvidenceFormatter evidence;

    public ClimbFormatter(CompiledEstate compiledEstate, Climb climb) {
        this.compiledEstate = compiledEstate;
        this.climb = climb;
        this.estateFormatter = new EstateFormatter(
                compiledEstate.estate(), climb.evaluationContext().at());
        this.evidence = new EvidenceFormatter(estateFormatter);
    }

    /** By what a gate of the climb is open, or what is missing. */
    public String evidence(Climb.Gate gate) {
        return evidence.of(gate.evidence());
    }

    /** A stretch of a sentence; one that names a policy carries its id. */
    public record Piece(String text, Optional<String> policy) {
        static Piece plain(String text) {
            return new Piece(text, Optional.empty());
        }
    }

    /** The answer in a few words: "Yes", "No", the value, or how many entries a list has. */
    public String answer() {
        Value value = climb.outcome().value();
        if (value instanceof Value.Switch s) return s.on() ? "Yes" : "No";
        if (value instanceof Value.ListValue list) return entries(list.items().size());
        String text = estateFormatter.value(climb.setting(), value);
        boolean isName = value instanceof Value.Text
                || value instanceof Value.Link
                || value instanceof Value.LocalisedText
                || text.isEmpty();
        return isName ? text : capital(text);
    }

    private static String entries(int n) {
        return n == 0 ? "Nothing" : n == 1 ? "One entry" : capital(count(n)) + " entries";
    }

    private static String capital(String text) {
        int first = text.offsetByCodePoints(0, 1);
        return text.substring(0, first).toUpperCase(java.util.Locale.UK) + text.substring(first);
    }

    /** The outcome sentence after the answer: what is so for whom, and what made it so. */
    public List<Piece> because() {
        Outcome outcome = climb.outcome();
        List<Piece> pieces = new ArrayList<>();
        pieces.add(Piece.plain(climb.setting().title() + isSo(outcome.value()) + ". "));
        switch (outcome.standing()) {
            case BLOCKED -> blocked(pieces);
            case CAPPED -> capped(pieces);
            case BUILTIN -> pieces.add(Piece.plain(builtIn()));
            default -> decided(pieces);
        }
        return pieces;
    }

    /** " is off for Mirela Osk"; of what is no switch the answer has told the value, and of a list the entries are told here. */
    private String isSo(Value value) {
        String whom = " for " + climb.account().displayName() + where();
        if (value instanceof Value.Switch) return " is " + is(value) + whom;
        boolean toTell = value instanceof Value.ListValue list && !list.items().isEmpty();
        return whom + (toTell ? ": " + value(value) : "");
    }

    private void capped(List<Piece> pieces) {
        decider()
                .ifPresentOrElse(
                        w -> pieces.addAll(List.of(
                                policy(w),
                                Piece.plain(" asks for "
                                        + value(w.rankedStatement().statement().value()) + ", but "))),
                        () -> pieces.add(Piece.plain("The built-in value is looser, but ")));
        entry(Verdict.BINDS)
                .ifPresent(w -> pieces.addAll(List.of(
                        policy(w),
                        Piece.plain(" caps it at "
                                + value(w.rankedStatement().statement().value()) + " for " + place(w.matchPath())
                                + "."))));
    }

    private String where() {
        return climb.evaluationContext()
                .workspace()
                .flatMap(compiledEstate.estate()::workspace)
                .map(w -> ", working in " + w.name())
                .orElse("");
    }

    private String builtIn() {
        if (climb.follows().isPresent())
            return "No policy for this account sets it, so it follows "
                    + title(climb.follows().get()) + ".";
        return "That is the built-in value: no policy for this account sets it.";
    }

    private void decided(List<Piece> pieces) {
        Climb.Entry source = decider().orElseThrow();
        pieces.add(policy(source));
        boolean locked = source.rankedStatement().statement() instanceof Statement.Set set && set.lock();
        Value value = source.rankedStatement().statement().value();
        String did = value instanceof Value.Switch s
                ? " turned it " + (s.on() ? "on" : "off")
                : value instanceof Value.ListValue ? " set the list" : " set it to " + value(value);
        long added = climb.entries().stream()
                .filter(w -> w.verdict() == Verdict.ADDS)
                .count();
        String more = added == 0
                ? ""
                : added == 1 ? "; another policy adds to it" : "; " + added + " more policies add to it";
        pieces.add(Piece.plain(
                did + (locked ? ", and locked it," : "") + " for " + place(source.matchPath()) + more + "."));
    }

    private void blocked(List<Piece> pieces) {
        Optional<Climb.Entry> source = decider();
        String decided = is(climb.outcome().decided());
        if (source.isPresent())
            pieces.addAll(List.of(policy(source.get()), Piece.plain(" says " + decided + ", but ")));
        else pieces.add(Piece.plain("The built-in value is " + decided + ", but "));
        List<Climb.Gate> closed = climb.gates().stream().filter(g -> !g.met()).toList();
        // One gate is told with its evidence; of several the plates and the list of gates tell more.
        pieces.add(Piece.plain(
                closed.size() == 1
                        ? "one gate is closed: " + evidence.of(closed.get(0).evidence()) + "."
                        : count(closed.size()) + " gates are closed."));
        if (climb.isPartial())
            pieces.add(Piece.plain(" That leaves " + value(climb.outcome().value()) + "."));
    }

    private static String count(int n) {
        List<String> words = List.of("no", "one", "two", "three", "four", "five", "six", "seven", "eight", "nine");
        return n < words.size() ? words.get(n) : String.valueOf(n);
    }

    private Piece policy(Climb.Entry w) {
        return new Piece(
                w.rankedStatement().policy().name(),
                Optional.of(w.rankedStatement().policy().id()));
    }

    private String title(String key) {
        return compiledEstate
                .estate()
                .catalogue()
                .setting(key)
                .map(Setting::title)
                .orElse(key);
    }

    private String value(Value value) {
        return estateFormatter.value(climb.setting(), value);
    }

    private String is(Value value) {
        return value instanceof Value.Switch s ? (s.on() ? "on" : "off") : value(value);
    }

    private Optional<Climb.Entry> decider() {
        return entry(Verdict.DECIDES);
    }

    private Optional<Climb.Entry> entry(Verdict verdict) {
        return climb.entries().stream().filter(w -> w.verdict() == verdict).findFirst();
    }

    /** Where a statement stands: the unit with what is above it, the group with the way in, the account, the organisation. */
    public String place(MatchPath matchPath) {
        if (matchPath.rung().kind() == RungKind.UNIT) {
            List<String> path = compiledEstate
                    .directory()
                    .tree()
                    .path(climb.account().unit())
                    .stream()
                    .map(Unit::name)
                    .toList();
            int depth = matchPath.rung().depth();
            return depth > 1 ? path.get(depth - 1) + " / " + path.get(depth) : path.get(depth);
        }
        return switch (matchPath.rung().kind()) {
            case PERSON -> climb.account().displayName() + " by name";
            case GROUP ->
                "the group "
                        + matchPath.via().stream().map(estateFormatter::target).collect(Collectors.joining(" › "));
            case WORKSPACE -> inPlace("the workspace ", matchPath);
            case HOSTING -> inPlace("the hosting ", matchPath);
            default -> "the whole organisation";
        };
    }

    /** A way in that ends with a place: "the workspace Timetable room", "Night watch in the workspace Timetable room". */
    private String inPlace(String noun, MatchPath matchPath) {
        List<String> via = matchPath.via();
        String place = noun + estateFormatter.target(via.get(via.size() - 1));
        return via.size() == 1
                ? place
                : via.subList(0, via.size() - 1).stream()
                                .map(estateFormatter::target)
                                .collect(Collectors.joining(" › "))
                        + " in " + place;
    }

    /** What became of the statement, in a few words. */
    public String reason(Climb.Entry w) {
        switch (w.verdict()) {
            case DECIDES:
                return w.rankedStatement().statement() instanceof Statement.Set set && set.lock()
                        ? "decides, locked"
                        : "decides";
            case ADDS:
                return "adds to the list";
            case LOWER:
                return "lower rung";
            case TIE:
                return tie(w);
            case CUT:
                return cut(w);
            case BINDS:
                return "caps the value";
            case SLACK:
                return "a cap that is not reached";
            default:
                return estateFormatter.missed(new NonMatchReason(w.matchPath(), w.verdict(), w.by(), w.window()));
        }
    }

    private String tie(Climb.Entry w) {
        Merge merge = climb.setting().merge();
        Value winning = decider().orElseThrow().rankedStatement().statement().value();
        Value mine = w.rankedStatement().statement().value();
        if (merge == Merge.STRICTEST && !mine.equals(winning)) return "looser than the one that decides";
        if (merge == Merge.LOOSEST && !mine.equals(winning)) return "stricter than the one that decides";
        List<Climb.Entry> beside = climb.entries().stream()
                .filter(o -> o.matchPath().rung().equals(w.matchPath().rung()))
                .filter(o -> o.verdict() == Verdict.DECIDES || o.verdict() == Verdict.TIE)
                .toList();
        int place = beside.indexOf(w);
        return place < ORDINALS.size()
                ? ORDINALS.get(place) + " in the ranking"
                : "number " + (place + 1) + " of those here";
    }

    private String cut(Climb.Entry w) {
        boolean beside =
                w.matchPath().rung().equals(decider().orElseThrow().matchPath().rung());
        return beside ? "gives way to the lock beside it" : "cut off by the lock below";
    }

    /** The whole climb as text, highest rung first, for a ticket or a terminal. */
    public String text() {
        StringBuilder text = new StringBuilder();
        text.append(answer()).append(". ");
        because().forEach(p -> text.append(p.text()));
        text.append('\n');
        if (!climb.gates().isEmpty()) text.append("\nGates:\n");
        for (Climb.Gate gate : climb.gates())
            text.append(gate.met() ? "  open    " : "  closed  ")
                    .append(estateFormatter.need(gate.need()))
                    .append(": ")
                    .append(evidence.of(gate.evidence()))
                    .append('\n');
        text.append("\nClimb, from the top:\n");
        List<Climb.Entry> weighed = climb.entries();
        for (int i = weighed.size() - 1; i >= 0; i--) {
            Climb.Entry w = weighed.get(i);
            Statement s = w.rankedStatement().statement();
            String says = s instanceof Statement.Set set
                    ? "sets " + value(s.value()) + (set.lock() ? " and locks it" : "")
                    : "caps at " + value(s.value());
            text.append("  ")
                    .append(w.matchPath().rung().kind().word())
                    .append(": ")
                    .append(w.rankedStatement().policy().name())
                    .append(' ')
                    .append(says)
                    .append(" (")
                    .append(place(w.matchPath()))
                    .append(") — ")
                    .append(reason(w))
                    .append('\n');
        }
        text.append("  builtin: the catalogue says ").append(builtInValue());
        text.append(" — ").append(builtInReason()).append('\n');
        return text.toString();
    }

    /** What became of the built-in default, in a few words. */
    public String builtInReason() {
        if (climb.setting().merge() == Merge.GATHER && climb.outcome().policy().isPresent()) return "adds to the list";
        return climb.outcome().policy().isPresent() ? "lower rung" : "decides: no policy sets it";
    }

    /** The built-in default in words; one that follows names what it follows. */
    public String builtInValue() {
        if (climb.setting().builtIn() instanceof leanladder.catalogue.Default.Fixed fixed) return value(fixed.value());
        return "as "
                + title(((leanladder.catalogue.Default.Follow) climb.setting().builtIn()).key());
    }
}
