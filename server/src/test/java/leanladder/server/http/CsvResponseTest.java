package leanladder.server.http;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

class CsvResponseTest {
    private static String written(String heading, String cell) {
        ByteArrayOutputStream out = new ByteArrayOutputStream();
        try {
            new CsvResponse("x.csv", List.of(heading), List.of(CsvResponse.line(cell))).writeTo(out);
        } catch (IOException e) {
            throw new AssertionError(e);
        }
        return out.toString(StandardCharsets.UTF_8);
    }

    @ParameterizedTest
    @ValueSource(strings = {"=1+1", "+1", "-1", "@x", "\t=1", "\n=1", "  =1", "\uFF1D1+1", "\uFF0B1", "\r1"})
    void whatASpreadsheetWouldTakeForAFormulaIsGuardedAndReadBackAsItWas(String cell) {
        assertThat(written("a", cell)).contains("'" + cell);
        assertThat(written(cell, "a")).contains("'" + cell);
        assertThat(CsvResponse.read("'" + cell)).isEqualTo(cell);
    }

    @Test
    void anOrdinaryTextIsLeftAlone() {
        assertThat(written("a", "O'Hara = x")).isEqualTo("a\nO'Hara = x\n");
        assertThat(CsvResponse.read("'tis")).isEqualTo("'tis");
    }
}
