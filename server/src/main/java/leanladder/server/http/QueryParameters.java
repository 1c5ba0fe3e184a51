package leanladder.server.http;

import java.time.Instant;
import java.time.ZoneId;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import leanladder.estate.Estate;
import leanladder.estate.Target;
import leanladder.json.Instants;

/** The parameters of a request, checked: a name that is not known or given twice is refused, not overlooked. */
public final class QueryParameters {
    private final Map<String, List<String>> given;

    QueryParameters(Map<String, List<String>> given, Set<String> allowed, Set<String> repeatable) {
        this.given = given;
        given.forEach((name, values) -> {
            if (!allowed.contains(name) && !repeatable.contains(name))
                throw ProblemException.wrongInput("There is no parameter \"" + name + "\" here; there are "
                        + String.join(", ", new TreeSet<>(concat(allowed, repeatable))) + ".");
            if (values.size() > 1 && !repeatable.contains(name))
                throw ProblemException.wrongInput(
                        "The parameter \"" + name + "\" is given " + values.size() + " times; give it once.");
        });
    }

    private static Set<String> concat(Set<String> a, Set<String> b) {
        var both = new HashSet<>(a);
        both.addAll(b);
        return both;
    }

    /** Without parameters. */
    public static QueryParameters none() {
        return new QueryParameters(Map.of(), Set.of(), Set.of());
    }

    /** The value of a parameter that is given and not empty. */
    public Optional<String> one(String name) {
        List<String> values = given.getOrDefault(name, List.of());
        return values.isEmpty() ? Optional.empty() : Optional.of(values.get(0)).filter(v -> !v.isEmpty());
    }

    /** Whether a parameter is given at all. */
    public boolean has(String name) {
        return given.containsKey(name);
    }

    /** Whether the list is asked for as comma-separated values. */
    public boolean isCsv() {
        return one("format")
                .map(f -> {
                    if (!f.equals("csv"))
                        throw ProblemException.wrongInput(
                                "The parameter \"format\" can only be csv; leave it out for JSON.");
                    return true;
                })
                .orElse(false);
    }

    /** All values of a parameter that may be given several times. */
    public List<String> all(String name) {
        return given.getOrDefault(name, List.of()).stream()
                .filter(v -> !v.isEmpty())
                .distinct()
                .toList();
    }

    /** The value of a parameter; a problem when it is missing. */
    public String required(String name) {
        return one(name).orElseThrow(() -> ProblemException.wrongInput("The parameter \"" + name + "\" is missing."));
    }

    /** A whole number from 1 on. */
    public int number(String name, int otherwise, int most) {
        return number(name, otherwise, 1, most);
    }

    /** A whole number between two others. */
    public int number(String name, int otherwise, int least, int most) {
        Optional<String> text = one(name);
        if (text.isEmpty()) return otherwise;
        boolean fits = text.get().matches("\\d{1,9}")
                && Integer.parseInt(text.get()) >= least
                && Integer.parseInt(text.get()) <= most;
        if (!fits)
            throw ProblemException.wrongInput(
                    "The parameter \"" + name + "\" must be a whole number from " + least + " to " + most + ".");
        return Integer.parseInt(text.get());
    }

    /** One of some words. */
    public Optional<String> word(String name, List<String> words) {
        Optional<String> word = one(name);
        word.filter(w -> !words.contains(w)).ifPresent(w -> {
            throw ProblemException.wrongInput("The parameter \"" + name + "\" must be "
                    + String.join(", ", words.subList(0, words.size() - 1)) + " or " + words.get(words.size() - 1)
                    + ".");
        });
        return word;
    }

    /**
     * A required target: everyone, a unit or a group, and an account where one may be asked about; a problem when there is none of
     * this id.
     */
    public Target target(String name, Estate estate, boolean orAccount) {
        String text = required(name);
        Target target = Target.asked(text)
                .filter(t -> !t.isPlace() && (orAccount || !(t instanceof Target.AccountTarget)))
                .orElseThrow(() -> noTarget(name, orAccount, text));
        if (!estate.has(target)) throw ProblemException.unknown("There is no " + text.replaceFirst(":", " \"") + "\".");
        return target;
    }

    private static ProblemException noTarget(String name, boolean orAccount, String text) {
        return ProblemException.wrongInput("The parameter \"" + name + "\" must be everyone, unit:ID"
                + (orAccount ? ", group:ID or account:ID" : " or group:ID") + ", but is \"" + text + "\".");
    }

    /** The parameters that say what is asked about: {@code at}, {@code workspace}, {@code draft}, and others. */
    public static Set<String> about(String... others) {
        Set<String> names = new HashSet<>(Set.of("at", "workspace", "draft"));
        names.addAll(List.of(others));
        return names;
    }

    /** An instant, or a day, which means its end in a time zone; empty for now, or where it is left out. */
    public Optional<Instant> instant(String name, ZoneId zone) {
        return one(name)
                .filter(text -> !text.equals("now"))
                .map(text -> Instants.instant(text)
                        .or(() -> Instants.day(text).map(day -> Instants.endOf(day, zone)))
                        .orElseThrow(() -> ProblemException.wrongInput("The parameter \"" + name
                                + "\" must be now, an instant such as 2026-11-23T12:00:00Z or a day such as 2026-11-23, but is \""
                                + text + "\".")));
    }
}
