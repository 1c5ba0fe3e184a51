package leanladder.estate;

import static org.assertj.core.api.Assertions.assertThat;

import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

class HiddenCharactersTest {
    @ParameterizedTest
    @ValueSource(
            strings = {
                "Mirela\u200B Osk",
                "\u202Eksо alerim",
                "Mirela\uFEFF",
                "Mire\u2060la",
                "Mi\u200Drela",
                "\u2066Osk"
            })
    void whatCannotBeSeenIsFound(String name) {
        assertThat(HiddenCharacters.in(name)).isPresent();
    }

    @ParameterizedTest
    @ValueSource(strings = {"Mirela Osk", "Zofia Lisówa", "نمی\u200Cخواهم", "क्\u200Dष", "שלום", ""})
    void namesOfAllScriptsAreLeftAlone(String name) {
        assertThat(HiddenCharacters.in(name)).isEmpty();
    }

    @Test
    void itIsNamed() {
        assertThat(HiddenCharacters.in("a\u202Eb")).contains("U+202E");
    }
}
