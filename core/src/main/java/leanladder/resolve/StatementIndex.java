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
final class StatementIndex {
    private final List<Policy> policies;
    private final Map<String, StatementColumns> statements;
    private final PolicyTargetIndex policyTargetIndex;

    private StatementIndex(
            List<Policy> policies, Map<String, StatementColumns> spoken, PolicyTargetIndex policyTargetIndex) {
        this.policies = policies;
        this.statements = spoken;
        this.policyTargetIndex = policyTargetIndex;
    }

    /** Of these policies, the strongest first. Linear in their statements. */
    static StatementIndex compute(List<Policy> policies) {
        Map<String, List<RankedStatement>> gathered = new HashMap<>();
        int rank = 0;
        for (Policy policy : policies) {
            for (Statement statement : policy.statements())
                gathered.computeIfAbsent(statement.setting(), k -> new ArrayList<>())
                        .add(new RankedStatement(policy, rank, statement));
            rank++;
        }
        Map<String, StatementColumns> spoken = new HashMap<>();
        gathered.forEach((setting, all) -> spoken.put(setting, new StatementColumns(all)));
        return new StatementIndex(policies, spoken, PolicyTargetIndex.compute(policies));
    }

    /** Of other policies. Where the ranking is the same, what does not concern those that differ is shared. */
    StatementIndex with(List<Policy> others) {
        if (others == policies) return this;
        Set<Integer> differing = new HashSet<>();
        if (others.size() != policies.size()) return compute(others);
        for (int rank = 0; rank < others.size(); rank++) {
            if (others.get(rank) == policies.get(rank)) continue;
            if (!others.get(rank).id().equals(policies.get(rank).id())) return compute(others);
            differing.add(rank);
        }
        Map<String, List<RankedStatement>> of = new HashMap<>();
        for (int rank : differing) {
            for (Statement was : policies.get(rank).statements())
                of.computeIfAbsent(was.setting(), k -> new ArrayList<>());
            for (Statement is : others.get(rank).statements())
                of.computeIfAbsent(is.setting(), k -> new ArrayList<>())
                        .add(new RankedStatement(others.get(rank), rank, is));
        }
        Map<String, StatementColumns> edited = new HashMap<>(statements);
        of.forEach((setting, fresh) -> {
            for (RankedStatement one : on(setting).all()) if (!differing.contains(one.rank())) fresh.add(one);
            fresh.sort(Comparator.comparingInt(RankedStatement::rank));
            if (fresh.isEmpty()) edited.remove(setting);
            else edited.put(setting, new StatementColumns(fresh));
        });
        return new StatementIndex(others, edited, policyTargetIndex.with(others));
    }

    /** Whom the policies name. */
    PolicyTargetIndex policyTargetIndex() {
        return policyTargetIndex;
    }

    /** Every statement on a setting. */
    StatementColumns on(String setting) {
        return statements.getOrDefault(setting, StatementColumns.NOTHING);
    }
}
