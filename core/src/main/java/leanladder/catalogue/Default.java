package leanladder.catalogue;

/** A setting's built-in default: a value, or the in-force value of another setting (resolution.md, section 4, step 5). */
public sealed interface Default {
    /** A value of the setting's own. */
    record Fixed(Value value) implements Default {}

    /** Whatever is in force for the setting of this key, for the same question. */
    record Follow(String key) implements Default {}
}
