package leanladder.resolve;

import java.util.Optional;
import leanladder.catalogue.Value;
import leanladder.reach.Rung;

/** A value on its way to an outcome: what the statements, and then the caps, make of it. */
record Decided(Value value, Rung rung, Optional<String> policy, boolean locked, Optional<String> cappedBy) {
    Decided bentBy(String cap, Value to) {
        return new Decided(to, rung, policy, locked, Optional.of(cap));
    }

    Decided withValue(Value other) {
        return new Decided(other, rung, policy, locked, cappedBy);
    }
}
