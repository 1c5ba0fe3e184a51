package leanladder.cli;

import com.fasterxml.jackson.databind.JsonNode;
import de.siegmar.fastcsv.writer.CsvWriter;
import de.siegmar.fastcsv.writer.LineDelimiter;
import java.io.IOException;
import java.io.OutputStream;
import java.io.StringWriter;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;
import leanladder.catalogue.Setting;
import leanladder.estate.Account;
import leanladder.json.Json;
import leanladder.resolve.Column;
import leanladder.resolve.ColumnResolver;
import leanladder.resolve.Outcome;
import org.jspecify.annotations.Nullable;

/**
 * Writes outcomes as lines. A column has only a handful of different outcomes, so each is put into bytes once; a line is the
 * account's bytes and those of its outcome. Memory: two bytes for each account and setting.
 */
abstract class OutcomeLines {
    private static final int TELL_EVERY = 1000;

    abstract String header();

    /** The start of a line, up to the account. */
    abstract String start(String account);

    /** The rest of a line, with its end. */
    abstract String rest(String setting, Outcome outcome);

    static OutcomeLines ndjson() {
        return new OutcomeLines() {
            @Override
            String header() {
                return "";
            }

            @Override
            String start(String account) {
                return "{\"account\":" + Json.write(Json.NODES.textNode(account)) + ",";
            }

            @Override
            String rest(String setting, Outcome outcome) {
                String rest = Json.write(outcome.rest());
                return "\"setting\":" + Json.write(Json.NODES.textNode(setting)) + "," + rest.substring(1) + "\n";
            }
        };
    }

    /** RFC 4180: a header, CRLF, null as an empty field; value, decided and blockedBy as JSON. */
    static OutcomeLines csv() {
        return new OutcomeLines() {
            @Override
            String header() {
                return "account,setting,value,decided,standing,rung,policy,cappedBy,blockedBy,dependsOnWorkspace\r\n";
            }

            @Override
            String start(String account) {
                return fields(List.of(account)) + ",";
            }

            @Override
            String rest(String setting, Outcome outcome) {
                List<@Nullable String> fields = new ArrayList<>();
                fields.add(setting);
                outcome.rest().properties().forEach(member -> fields.add(column(member.getKey(), member.getValue())));
                return fields(fields) + "\r\n";
            }

            private static @Nullable String column(String name, JsonNode node) {
                if (List.of("value", "decided", "blockedBy").contains(name)) return Json.write(node);
                return node.isNull() ? null : node.asText();
            }

            /** A part of a line, without its end. */
            private static String fields(List<@Nullable String> fields) {
                StringWriter text = new StringWriter();
                try (CsvWriter out = CsvWriter.builder().build(text)) {
                    out.writeRecord(fields);
                } catch (IOException e) {
                    throw new UncheckedIOException(e);
                }
                return text.toString()
                        .substring(
                                0,
                                text.getBuffer().length()
                                        - LineDelimiter.CRLF.toString().length());
            }
        };
    }

    /** Writes a line for each account and setting, in the order given. */
    final void write(ColumnResolver columnResolver, List<Account> accounts, List<Setting> settings, OutputStream to)
            throws IOException {
        to.write(header().getBytes(StandardCharsets.UTF_8));
        List<byte[][]> endings = new ArrayList<>();
        List<char[]> which = new ArrayList<>();
        List<int[]> wide = new ArrayList<>();
        int size = columnResolver.compiledEstate().directory().size();
        for (Setting setting : settings) {
            Column column = columnResolver.column(setting.key());
            int shares = column.shares().size();
            byte[][] ending = new byte[shares][];
            char[] narrow = shares <= Character.MAX_VALUE ? new char[size] : null;
            int[] full = narrow == null ? new int[size] : null;
            for (int i = 0; i < shares; i++) {
                ending[i] = rest(setting.key(), column.shares().get(i).what()).getBytes(StandardCharsets.UTF_8);
                int share = i;
                column.shares().get(i).accounts().forEach((int n) -> {
                    if (narrow != null) narrow[n] = (char) share;
                    else full[n] = share;
                });
            }
            endings.add(ending);
            which.add(narrow);
            wide.add(full);
        }
        int done = 0;
        for (Account account : accounts) {
            byte[] start = start(account.id()).getBytes(StandardCharsets.UTF_8);
            int number = columnResolver.compiledEstate().directory().number(account.id());
            for (int s = 0; s < endings.size(); s++) {
                int share = which.get(s) != null ? which.get(s)[number] : wide.get(s)[number];
                to.write(start);
                to.write(endings.get(s)[share]);
            }
            if (++done % TELL_EVERY == 0) ProgressReporter.tell("writing", done, accounts.size());
        }
    }
}
