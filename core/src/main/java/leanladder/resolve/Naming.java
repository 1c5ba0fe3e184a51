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
import leanladder.reach.Position;

/**
 * Which policies name whom in an include, whatever its window. Of hundreds of policies most name others than one account and what holds it;
 * a climb asks only the rest how they reach it. Not changed once made.
 */
final class Naming {
    /** Whom one policy names; its accounts apart, for there may be a hundred thousand. */
    private record Named(Policy policy, List<Target> places, Set<String> accounts) {
        static Named by(Policy policy) {
            List<Target> places = new ArrayList<>();
            Set<String> accounts = new HashSet<>();
            for (Assignment a : policy.assignments()) {
                if (!a.include()) continue;
                if (a.target() instanceof Target.OfAccount account) accounts.add(account.id());
                else places.add(a.target());
            }
            return new Named(policy, places, accounts);
        }
    }

    private final List<Named> policies;
    private final Map<Target, BitSet> ofPlace = new HashMap<>();
    private final BitSet inWorkspaces = new BitSet();
    private final BitSet ofAccounts = new BitSet();

    private Naming(List<Named> policies) {
        this.policies = policies;
        for (int rank = 0; rank < policies.size(); rank++) {
            Named named = policies.get(rank);
            for (Target place : named.places)
                if (place instanceof Target.OfWorkspace) inWorkspaces.set(rank);
                else ofPlace.computeIfAbsent(place, p -> new BitSet()).set(rank);
            if (!named.accounts.isEmpty()) ofAccounts.set(rank);
        }
    }

    /** Of these policies, the strongest first. Linear in their includes. */
    static Naming of(List<Policy> policies) {
        return new Naming(policies.stream().map(Named::by).toList());
    }

    /** Of other policies. Those that are the same at the same rank are not read again. */
    Naming with(List<Policy> others) {
        List<Named> edited = new ArrayList<>(others.size());
        for (int rank = 0; rank < others.size(); rank++) {
            Policy policy = others.get(rank);
            boolean same = rank < policies.size() && policies.get(rank).policy == policy;
            edited.add(same ? policies.get(rank) : Named.by(policy));
        }
        return new Naming(edited);
    }

    /** The ranks of those policies that could reach an account, in a workspace or outside of all. */
    BitSet among(Position position) {
        BitSet ranks = (BitSet) inWorkspaces.clone();
        position.places().forEach(place -> {
            BitSet naming = ofPlace.get(place);
            if (naming != null) ranks.or(naming);
        });
        String account = position.account().id();
        for (int rank = ofAccounts.nextSetBit(0); rank >= 0; rank = ofAccounts.nextSetBit(rank + 1))
            if (policies.get(rank).accounts.contains(account)) ranks.set(rank);
        return ranks;
    }
}
