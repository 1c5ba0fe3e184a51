package leanladder.catalogue;

import java.util.Comparator;
import java.util.List;

/**
 * The order of an ordered setting's values, strictest first (resolution.md, section 2).
 *
 * @param order compares two values of the setting: negative when the first is stricter
 * @param strictEnd the strictest value of all
 * @param looseEnd the loosest value of all
 */
public record Strictness(Comparator<Value> order, Value strictEnd, Value looseEnd) {
    private static final Strictness WHERE_ON_IS_STRICT = switchedTo(true);
    private static final Strictness WHERE_OFF_IS_STRICT = switchedTo(false);

    /** A switch with this strict value. */
    public static Strictness ofSwitch(boolean strict) {
        return strict ? WHERE_ON_IS_STRICT : WHERE_OFF_IS_STRICT;
    }

    private static Strictness switchedTo(boolean strict) {
        return new Strictness(
                Comparator.comparing(v -> ((Value.Switch) v).on() != strict),
                Value.Switch.of(strict),
                Value.Switch.of(!strict));
    }

    /** A choice whose options are written strictest first. */
    public static Strictness ofOptions(List<String> options) {
        Comparator<Value> order = Comparator.comparingInt(v -> options.indexOf(((Value.Choice) v).option()));
        return new Strictness(
                order, new Value.Choice(options.get(0)), new Value.Choice(options.get(options.size() - 1)));
    }

    /** A number whose min is the strict end, or whose max is. */
    public static Strictness ofNumber(ValueType.NumberType type, boolean lowerIsStrict) {
        Comparator<Value> order = Comparator.comparing(v -> ((Value.IntegerValue) v).number());
        Value min = new Value.IntegerValue(type.min());
        Value max = new Value.IntegerValue(type.max());
        return lowerIsStrict ? new Strictness(order, min, max) : new Strictness(order.reversed(), max, min);
    }

    /** The stricter of two values. */
    public Value strictest(Value a, Value b) {
        return isLooser(a, b) ? b : a;
    }

    /** Whether the first value is looser than the second. */
    public boolean isLooser(Value a, Value b) {
        return order.compare(a, b) > 0;
    }
}
