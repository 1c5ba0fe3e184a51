package leanladder.estate;

import leanladder.catalogue.Value;

/** One policy's word on one setting (resolution.md, section 1). */
public sealed interface Statement {
    /** The key of the setting spoken on. */
    String setting();

    /** The value named. */
    Value value();

    /** Sets a value; a lock cuts off what stands above. */
    record Set(String setting, Value value, boolean lock) implements Statement {}

    /** The loosest value allowed. */
    record Cap(String setting, Value value) implements Statement {}
}
