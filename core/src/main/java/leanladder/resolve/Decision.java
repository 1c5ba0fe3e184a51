package leanladder.resolve;

import java.util.Optional;
import leanladder.catalogue.Value;
import leanladder.reach.Rung;

/** A value on its way to an outcome: what the statements, and then the caps, make of it. */
record Decision(Value value, Rung rung, Optional<String> policy, boolean locked, Optional<String> cappedBy) {
    Decision cappedBy(String cap, Value to) {
        return new Decision(to, rung, policy, locked, Optional.of(cap));
    }

    Decision withValue(Value other) {
        return new Decision(other, rung, policy, locked, cappedBy);
    }
}
