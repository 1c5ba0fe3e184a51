package leanladder.server.fuzz;

import com.code_intelligence.jazzer.junit.FuzzTest;
import java.io.ByteArrayInputStream;
import java.util.Optional;
import leanladder.server.csvimport.CsvColumns;
import leanladder.server.csvimport.CsvLines;
import leanladder.server.http.ProblemException;

/** A file with comma-separated values of whatever bytes is read, or refused with a sentence. */
class LinesFuzzTest {
    @FuzzTest(maxDuration = "3s")
    void aFileIsReadLineByLineOrRefused(byte[] file) {
        try {
            long last = 0;
            CsvColumns columns = new CsvColumns().with("id").with("name");
            for (CsvLines.Line line : CsvLines.parse(new ByteArrayInputStream(file), columns, Optional.empty())
                    .lines()) {
                if (line.number() <= last) throw new AssertionError("Line " + line.number() + " comes after " + last);
                last = line.number();
            }
        } catch (ProblemException refused) {
            if (refused.status() >= 500) throw new AssertionError("It is the file that is wrong", refused);
        }
    }
}
