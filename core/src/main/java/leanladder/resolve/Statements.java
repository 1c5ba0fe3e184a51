package leanladder.resolve;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import leanladder.estate.Policy;
import leanladder.estate.Statement;

/** The statements of all policies, gathered by setting, each setting's in the ranking of policies. Not changed once made. */
final class Statements {
    private final List<Policy> policies;
    private final Map<String, SpokenOn> spoken;
    private final Naming naming;

    private Statements(List<Policy> policies, Map<String, SpokenOn> spoken, Naming naming) {
        this.policies = policies;
        this.spoken = spoken;
        this.naming = naming;
    }

    /** Of these policies, the strongest first. Linear in their statements. */
    static Statements of(List<Policy> policies) {
        Map<String, List<Spoken>> gathered = new HashMap<>();
        int rank = 0;
        for (Policy policy : policies) {
            for (Statement statement : policy.statements())
                gathered.computeIfAbsent(statement.setting(), k -> new ArrayList<>())
                        .add(new Spoken(policy, rank, statement));
            rank++;
        }
        Map<String, SpokenOn> spoken = new HashMap<>();
        gathered.forEach((setting, all) -> spoken.put(setting, new SpokenOn(all)));
        return new Statements(policies, spoken, Naming.of(policies));
    }

    /** Of other policies. Where the ranking is the same, what does not concern those that differ is shared. */
    Statements with(List<Policy> others) {
        if (others == policies) return this;
        Set<Integer> differing = new HashSet<>();
        if (others.size() != policies.size()) return of(others);
        for (int rank = 0; rank < others.size(); rank++) {
            if (others.get(rank) == policies.get(rank)) continue;
            if (!others.get(rank).id().equals(policies.get(rank).id())) return of(others);
            differing.add(rank);
        }
        Map<String, List<Spoken>> of = new HashMap<>();
        for (int rank : differing) {
            for (Statement was : policies.get(rank).statements())
                of.computeIfAbsent(was.setting(), k -> new ArrayList<>());
            for (Statement is : others.get(rank).statements())
                of.computeIfAbsent(is.setting(), k -> new ArrayList<>()).add(new Spoken(others.get(rank), rank, is));
        }
        Map<String, SpokenOn> edited = new HashMap<>(spoken);
        of.forEach((setting, fresh) -> {
            for (Spoken one : on(setting).all()) if (!differing.contains(one.rank())) fresh.add(one);
            fresh.sort(Comparator.comparingInt(Spoken::rank));
            if (fresh.isEmpty()) edited.remove(setting);
            else edited.put(setting, new SpokenOn(fresh));
        });
        return new Statements(others, edited, naming.with(others));
    }

    /** Whom the policies name. */
    Naming naming() {
        return naming;
    }

    /** Every statement on a setting. */
    SpokenOn on(String setting) {
        return spoken.getOrDefault(setting, SpokenOn.NOTHING);
    }
}
