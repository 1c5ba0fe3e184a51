package leanladder.catalogue;

import static org.assertj.core.api.Assertions.assertThat;

import java.math.BigInteger;
import java.util.List;
import org.junit.jupiter.api.Test;

class StrictnessTest {
    private static Value whole(int number) {
        return new Value.IntegerValue(BigInteger.valueOf(number));
    }

    @Test
    void ofASwitchOneOfTheTwoIsTheStrictEnd() {
        for (boolean strict : List.of(true, false)) {
            Strictness strictness = Strictness.ofSwitch(strict);
            Value end = new Value.Switch(strict);
            Value other = new Value.Switch(!strict);
            assertThat(strictness.strictEnd()).isEqualTo(end);
            assertThat(strictness.isLooser(other, end)).isTrue();
            assertThat(strictness.isLooser(end, other)).isFalse();
            assertThat(strictness.isLooser(end, end)).isFalse();
        }
    }

    @Test
    void optionsAreWrittenFromTheStrictestToTheLoosest() {
        Strictness strictness = Strictness.ofOptions(List.of("own", "firms", "anyone"));
        assertThat(strictness.strictEnd()).isEqualTo(new Value.Choice("own"));
        assertThat(strictness.isLooser(new Value.Choice("anyone"), new Value.Choice("firms")))
                .isTrue();
        assertThat(strictness.isLooser(new Value.Choice("own"), new Value.Choice("firms")))
                .isFalse();
    }

    @Test
    void ofANumberEitherEndOfItsRangeMayBeTheStrictOne() {
        var type = new ValueType.NumberType(BigInteger.valueOf(5), BigInteger.valueOf(90));
        Strictness few = Strictness.ofNumber(type, true);
        Strictness many = Strictness.ofNumber(type, false);
        assertThat(few.strictEnd()).isEqualTo(whole(5));
        assertThat(many.strictEnd()).isEqualTo(whole(90));
        assertThat(few.isLooser(whole(30), whole(7))).isTrue();
        assertThat(many.isLooser(whole(30), whole(7))).isFalse();
    }
}
