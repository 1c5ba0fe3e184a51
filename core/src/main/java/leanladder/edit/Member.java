package leanladder.edit;

import java.lang.annotation.ElementType;
import java.lang.annotation.Retention;
import java.lang.annotation.RetentionPolicy;
import java.lang.annotation.Target;

/** What holds of a member of an edit beside its Java type; see {@link EditForm}. A member is required unless this says otherwise. */
@Target(ElementType.RECORD_COMPONENT)
@Retention(RetentionPolicy.RUNTIME)
public @interface Member {
    /** Whether it must be there. */
    Presence presence() default Presence.REQUIRED;

    /** What its text names: the noun of a type of entity, {@code policy} or {@code ring}. What does not exist is a defect. */
    String names() default "";

    /** The words that its text can be; any, where none are given. */
    String[] words() default {};

    /** Whether its text is an instant. */
    boolean instant() default false;

    /** The component of the interface's description that describes an object or the items of a list. */
    String schema() default "";

    /** One sentence for the interface's description. */
    String description() default "";

    /** Whether a member must be there. */
    enum Presence {
        /** It must. */
        REQUIRED,
        /** It must, and can be null. */
        NULLABLE,
        /** It can be left out, or be null. */
        OPTIONAL
    }

    /** How many items a list has at least, as the schema says it. */
    int minItems() default 1;
}
