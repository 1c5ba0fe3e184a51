package leanladder.server;

import io.javalin.http.Context;
import java.io.IOException;
import java.time.Instant;
import java.time.ZoneId;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import leanladder.document.Instants;
import leanladder.estate.Estate;
import leanladder.estate.Target;
import leanladder.resolve.Question;

/** The parameters of a request, checked: a name that is not known or given twice is refused, not overlooked. */
final class Query {
    private final Context ctx;
    private final Instant now;

    Query(Context ctx, Instant now, Set<String> allowed, Set<String> repeatable) {
        this.ctx = ctx;
        this.now = now;
        ctx.queryParamMap().forEach((name, values) -> {
            if (!allowed.contains(name) && !repeatable.contains(name))
                throw Problem.wrongInput("There is no parameter \"" + name + "\" here; there are "
                        + String.join(", ", new java.util.TreeSet<>(concat(allowed, repeatable))) + ".");
            if (values.size() > 1 && !repeatable.contains(name))
                throw Problem.wrongInput(
                        "The parameter \"" + name + "\" is given " + values.size() + " times; give it once.");
        });
    }

    private static Set<String> concat(Set<String> a, Set<String> b) {
        var both = new java.util.HashSet<>(a);
        both.addAll(b);
        return both;
    }

    Optional<String> one(String name) {
        return Optional.ofNullable(ctx.queryParam(name)).filter(v -> !v.isEmpty());
    }

    /** Whether the list is asked for as comma-separated values. */
    boolean isCsv() {
        return one("format")
                .map(f -> {
                    if (!f.equals("csv"))
                        throw Problem.wrongInput("The parameter \"format\" can only be csv; leave it out for JSON.");
                    return true;
                })
                .orElse(false);
    }

    List<String> all(String name) {
        return ctx.queryParams(name).stream()
                .filter(v -> !v.isEmpty())
                .distinct()
                .toList();
    }

    String required(String name) {
        return one(name).orElseThrow(() -> Problem.wrongInput("The parameter \"" + name + "\" is missing."));
    }

    int number(String name, int otherwise, int most) {
        Optional<String> text = one(name);
        if (text.isEmpty()) return otherwise;
        if (!text.get().matches("\\d{1,9}") || Integer.parseInt(text.get()) < 1 || Integer.parseInt(text.get()) > most)
            throw Problem.wrongInput("The parameter \"" + name + "\" must be a whole number from 1 to " + most + ".");
        return Integer.parseInt(text.get());
    }

    /**
     * A required target: everyone, a unit or a group, and an account where one may be asked about; a problem when there is none of
     * this id.
     */
    Target target(String name, Estate estate, boolean orAccount) {
        String text = required(name);
        Target target = text.equals("everyone")
                ? new Target.Whole()
                : Target.of(text).orElseThrow(() -> noTarget(name, orAccount, text));
        boolean there;
        if (target instanceof Target.OfUnit u) there = estate.unit(u.id()).isPresent();
        else if (target instanceof Target.OfGroup g)
            there = estate.group(g.id()).isPresent();
        else if (target instanceof Target.OfAccount a && orAccount)
            there = estate.account(a.id()).isPresent();
        else if (target instanceof Target.Whole) there = true;
        else throw noTarget(name, orAccount, text);
        if (!there) throw Problem.unknown("There is no " + text.replaceFirst(":", " \"") + "\".");
        return target;
    }

    private static Problem noTarget(String name, boolean orAccount, String text) {
        return Problem.wrongInput("The parameter \"" + name + "\" must be everyone, unit:ID"
                + (orAccount ? ", group:ID or account:ID" : " or group:ID") + ", but is \"" + text + "\".");
    }

    /** What is asked about: the estate as it stood or stands at an instant, and the question put to it. */
    record Asked(Present estate, Question question) {}

    /** The parameters that say what is asked about: {@code at}, {@code workspace}, {@code draft}. */
    static Set<String> about(String... others) {
        Set<String> names = new java.util.HashSet<>(Set.of("at", "workspace", "draft"));
        names.addAll(List.of(others));
        return names;
    }

    /**
     * Finds the estate and the question that {@code at}, {@code workspace} and {@code draft} make: with a draft, the estate as it
     * would be after it.
     */
    Asked asked(Estates estates) throws IOException {
        Instant at = at(estates.present().ground().estate().organisation().zone());
        Optional<String> draft = one("draft");
        if (draft.isPresent() && at.isBefore(now))
            throw Problem.wrongInput("After a draft there is no past; leave \"at\" out, or name a later instant.");
        Present estate = draft.isPresent() ? estates.after(draft.get()) : estates.standingAt(at);
        Optional<String> workspace = one("workspace");
        workspace.filter(w -> estate.ground().estate().workspace(w).isEmpty()).ifPresent(w -> {
            throw Problem.unknown("There is no workspace \"" + w + "\".");
        });
        return new Asked(estate, new Question(at, workspace));
    }

    /** A required instant, or a day, which means its end in the organisation's time zone. */
    Instant instant(String name, Estates estates) {
        return instant(
                name,
                required(name),
                estates.present().ground().estate().organisation().zone());
    }

    /** The instant asked about: now, any other instant, or a day, which means its end in the organisation's time zone. */
    private Instant at(ZoneId zone) {
        Optional<String> text = one("at").filter(t -> !t.equals("now"));
        if (text.isEmpty()) return now;
        return instant("at", text.get(), zone);
    }

    private Instant instant(String name, String text, ZoneId zone) {
        if (text.equals("now")) return now;
        return Instants.instant(text)
                .or(() -> Instants.day(text)
                        .map(day ->
                                day.plusDays(1).atStartOfDay(zone).toInstant().minusMillis(1)))
                .orElseThrow(() -> Problem.wrongInput("The parameter \"" + name
                        + "\" must be now, an instant such as 2026-11-23T12:00:00Z or a day such as 2026-11-23, but is \""
                        + text + "\"."));
    }
}
