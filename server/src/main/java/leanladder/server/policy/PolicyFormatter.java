package leanladder.server.policy;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;
import leanladder.estate.Assignment;
import leanladder.estate.Policy;
import leanladder.estate.Target;
import leanladder.estate.Unit;
import leanladder.reach.MatchPath;
import leanladder.reach.RungKind;
import leanladder.server.query.QueryContext;
import leanladder.text.EstateFormatter;

/** Whom policies are for, in words. */
record PolicyFormatter(QueryContext inquiry, EstateFormatter estateFormatter) {
    private static final int NAMED = 3;

    PolicyFormatter(QueryContext inquiry) {
        this(inquiry, inquiry.estateFormatter());
    }

    /** "Bridge in 9 units and Night watch, except Safety stewards". */
    String forWhom(Policy policy) {
        String included = words(policy, true);
        String excepted = words(policy, false);
        if (included.isEmpty()) return "nobody yet";
        return excepted.isEmpty() ? included : included + ", except " + excepted;
    }

    private String words(Policy policy, boolean include) {
        Map<String, Long> units = new LinkedHashMap<>();
        List<String> words = new ArrayList<>();
        long people = policy.assignments().stream()
                .filter(a -> a.include() == include
                        && a.target() instanceof Target.AccountTarget
                        && a.place().isEmpty())
                .count();
        for (Assignment a : policy.assignments()) {
            if (a.include() != include) continue;
            if (a.place().isPresent()) words.add(inPlace(a));
            else if (a.target() instanceof Target.UnitTarget)
                units.merge(estateFormatter.target(a.target()), 1L, Long::sum);
            else if (a.target() instanceof Target.OrganisationTarget) words.add("everyone");
            else if (!(a.target() instanceof Target.AccountTarget) || people <= NAMED)
                words.add(estateFormatter.target(a.target()));
        }
        if (people > NAMED) words.add(people + " accounts by name");
        List<String> all = new ArrayList<>();
        units.forEach((name, count) -> all.add(count == 1 ? name : name + " in " + count + " units"));
        all.addAll(words);
        if (all.size() < 2) return String.join("", all);
        return String.join(", ", all.subList(0, all.size() - 1)) + " and " + all.get(all.size() - 1);
    }

    /** A target's name; a unit is told with what is above it, for units of one name are many. */
    String name(Target target) {
        if (!(target instanceof Target.UnitTarget unit)) return estateFormatter.target(target);
        List<Unit> path = inquiry.directory().tree().path(unit.id());
        return path.stream().skip(path.size() > 1 ? 1 : 0).map(Unit::name).collect(Collectors.joining(" › "));
    }

    /** By what an account is reached: its name, or the group or unit with the path from the target down. */
    String way(MatchPath matchPath) {
        return matchPath.rung().kind() == RungKind.PERSON
                ? "name"
                : matchPath.via().stream().map(estateFormatter::target).collect(Collectors.joining(" › "));
    }

    /** What a policy is called; empty for no policy. */
    Optional<String> policy(Optional<String> id) {
        return id.flatMap(inquiry.estate()::policy).map(Policy::name);
    }

    /** "whoever works in Timetable room", "Night watch in Timetable room", "whoever works on Shared hosting". */
    private String inPlace(Assignment a) {
        Target place = a.place().orElseThrow();
        String where = (place instanceof Target.HostingTarget ? " on " : " in ") + estateFormatter.target(place);
        return (a.whom() instanceof Target.OrganisationTarget ? "whoever works" : estateFormatter.target(a.whom()))
                + where;
    }
}
