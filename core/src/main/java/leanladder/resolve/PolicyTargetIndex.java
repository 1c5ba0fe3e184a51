package leanladder.resolve;

import java.util.ArrayList;
import java.util.BitSet;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import leanladder.estate.Assignment;
import leanladder.estate.Policy;
import leanladder.estate.Target;
import leanladder.reach.AccountReach;

/**
 * Which policies name whom in an include, whatever its window. Of hundreds of policies most name others than one account and what holds it;
 * a climb asks only the rest how they reach it. Not changed once made.
 */
final class PolicyTargetIndex {
    /** Whom one policy names; its accounts apart, for there may be a hundred thousand. */
    private record PolicyTargets(Policy policy, List<Target> places, Set<String> accounts) {
        static PolicyTargets by(Policy policy) {
            List<Target> places = new ArrayList<>();
            Set<String> accounts = new HashSet<>();
            for (Assignment a : policy.assignments()) {
                if (!a.include()) continue;
                if (a.whom() instanceof Target.AccountTarget account) accounts.add(account.id());
                else places.add(a.whom());
            }
            return new PolicyTargets(policy, places, accounts);
        }
    }

    private final List<PolicyTargets> policies;
    private final Map<Target, BitSet> ofPlace = new HashMap<>();
    private final BitSet ofAccounts = new BitSet();

    private PolicyTargetIndex(List<PolicyTargets> policies) {
        this.policies = policies;
        for (int rank = 0; rank < policies.size(); rank++) {
            PolicyTargets policyTargets = policies.get(rank);
            for (Target place : policyTargets.places)
                ofPlace.computeIfAbsent(place, p -> new BitSet()).set(rank);
            if (!policyTargets.accounts.isEmpty()) ofAccounts.set(rank);
        }
    }

    /** Of these policies, the strongest first. Linear in their includes. */
    static PolicyTargetIndex compute(List<Policy> policies) {
        return new PolicyTargetIndex(policies.stream().map(PolicyTargets::by).toList());
    }

    /** Of other policies. Those that are the same at the same rank are not read again. */
    PolicyTargetIndex with(List<Policy> others) {
        List<PolicyTargets> edited = new ArrayList<>(others.size());
        for (int rank = 0; rank < others.size(); rank++) {
            Policy policy = others.get(rank);
            boolean same = rank < policies.size() && policies.get(rank).policy == policy;
            edited.add(same ? policies.get(rank) : PolicyTargets.by(policy));
        }
        return new PolicyTargetIndex(edited);
    }

    /** The ranks of those policies that could reach an account, in a workspace or outside of all. */
    BitSet among(AccountReach accountReach) {
        BitSet ranks = new BitSet();
        accountReach.places().forEach(place -> {
            BitSet naming = ofPlace.get(place);
            if (naming != null) ranks.or(naming);
        });
        String account = accountReach.account().id();
        for (int rank = ofAccounts.nextSetBit(0); rank >= 0; rank = ofAccounts.nextSetBit(rank + 1))
            if (policies.get(rank).accounts.contains(account)) ranks.set(rank);
        return ranks;
    }
}
