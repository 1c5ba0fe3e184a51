package leanladder.json;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Instant;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

class TextTest {
    @Property
    void textsSortAsTheirCodePointsDo(@ForAll String a, @ForAll String b) {
        int[] x = a.codePoints().toArray();
        int[] y = b.codePoints().toArray();
        if (a.chars().anyMatch(c -> Character.isSurrogate((char) c)) && (broken(a) || broken(b))) return;
        assertThat(Integer.signum(CodePointOrder.TEXTS.compare(a, b)))
                .isEqualTo(Integer.signum(java.util.Arrays.compare(x, y)));
    }

    private static boolean broken(String text) {
        return text.codePoints().anyMatch(c -> c <= Character.MAX_VALUE && Character.isSurrogate((char) c));
    }

    @ParameterizedTest
    @CsvSource({
        "2026-11-23T12:00:00Z, 2026-11-23T12:00:00Z",
        "2026-11-23t12:00:00z, 2026-11-23T12:00:00Z",
        "2026-11-23T12:00:00.123456789+01:30, 2026-11-23T10:30:00.123456789Z",
        "2026-11-23T00:30:00-23:59, 2026-11-24T00:29:00Z",
        "2024-02-29T00:00:00-00:00, 2024-02-29T00:00:00Z"
    })
    void instantsAreReadAsRfc3339Says(String text, Instant instant) {
        assertThat(Instants.instant(text)).contains(instant);
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "2026-11-23",
                "2026-11-23T12:00:00",
                "2026-11-23T24:00:00Z",
                "2026-11-23T12:00:60Z",
                "2026-02-30T12:00:00Z",
                "2026-11-23T12:00:00.1234567891Z",
                "2026-11-23T12:00:00.Z",
                "2026-11-23T12:00:00+24:00",
                "2026-11-23T12:00Z",
                "26-11-23T12:00:00Z"
            })
    void whatIsNoInstantIsRefused(String text) {
        assertThat(Instants.instant(text)).isEmpty();
    }
}
