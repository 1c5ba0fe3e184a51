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
    private static final int[] NONE = {};

    private final List<Policy> policies;
    private final Map<String, List<Spoken>> spoken;
    private final Map<String, int[]> ranks;

    private Statements(List<Policy> policies, Map<String, List<Spoken>> spoken, Map<String, int[]> ranks) {
        this.policies = policies;
        this.spoken = spoken;
        this.ranks = ranks;
    }

    /** Of these policies, the strongest first. Linear in their statements. */
    static Statements of(List<Policy> policies) {
        Map<String, List<Spoken>> spoken = new HashMap<>();
        int rank = 0;
        for (Policy policy : policies) {
            for (Statement statement : policy.statements())
                spoken.computeIfAbsent(statement.setting(), k -> new ArrayList<>())
                        .add(new Spoken(policy, rank, statement));
            rank++;
        }
        Map<String, int[]> ranks = new HashMap<>();
        spoken.forEach((setting, all) -> ranks.put(setting, ranks(all)));
        return new Statements(policies, spoken, ranks);
    }

    private static int[] ranks(List<Spoken> all) {
        return all.stream().mapToInt(Spoken::rank).toArray();
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
        Map<String, List<Spoken>> edited = new HashMap<>(spoken);
        Map<String, int[]> editedRanks = new HashMap<>(ranks);
        of.forEach((setting, fresh) -> {
            for (Spoken one : on(setting)) if (!differing.contains(one.rank())) fresh.add(one);
            fresh.sort(Comparator.comparingInt(Spoken::rank));
            if (fresh.isEmpty()) {
                edited.remove(setting);
                editedRanks.remove(setting);
                return;
            }
            edited.put(setting, fresh);
            editedRanks.put(setting, ranks(fresh));
        });
        return new Statements(others, edited, editedRanks);
    }

    /** Every statement on a setting. */
    List<Spoken> on(String setting) {
        return spoken.getOrDefault(setting, List.of());
    }

    /** The ranks of {@link #on}, side by side: most statements are only passed by on a climb, and need not be looked at. */
    int[] ranksOn(String setting) {
        return ranks.getOrDefault(setting, NONE);
    }
}
