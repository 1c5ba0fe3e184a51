package leanladder.e2e;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.charset.Charset;
import java.nio.file.Files;
import java.nio.file.Path;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** People, units and workspaces edited in the real interface. */
class DirectoryEditingTest extends Editing {
    @Test
    void aFileOfPeopleIsReportedLineByLineAndOnlyWhatFitsIsStaged() throws Exception {
        Path file = Files.createTempFile("crew", ".csv");
        Files.writeString(
                file,
                "address,name,unit,started\nquill.tarn@skerrymore.example,Quill Tarn,engineering,2026-11-02\n"
                        + "zofia.lisowa@skerrymore.example,Zofia Lisowa,nowhere,\n");
        browser.open("/directory/people");
        browser.press("From a file");
        browser.upload("The file", file);
        browser.sees("2 lines: 1 new, 0 altered, 0 as they are already, 1 refused.");
        browser.sees("There is no unit");
        assertThat(browser.axe()).isEmpty();
        browser.press("Add 1 line to draft");
        browser.sees("Quill Tarn is a new person");
        browser.sees("1 new");
        Files.delete(file);
    }

    @Test
    void aFileThatCannotBeReadIsRefusedWithTheReasonAndNothingOfItIsStaged(@TempDir Path dir) throws Exception {
        browser.open("/directory/people");
        browser.press("From a file");
        Path old = Files.writeString(
                dir.resolve("old.csv"),
                "address,name,unit\nerik.lofgren@skerrymore.example,Erik L\u00f6fgren,engineering\n",
                Charset.forName("windows-1252"));
        browser.upload("The file", old);
        browser.sees("The file is not UTF-8 text; it looks like Windows-1252");
        Path huge = dir.resolve("huge.csv");
        Files.writeString(huge, "address,name,unit\n" + ",,\n".repeat(24 << 20));
        browser.upload("The file", huge);
        browser.sees("The body is too large");
    }

    @Test
    void movingAUnitAndDeactivatingAnAccountShowTheirRipple() {
        browser.open("/directory/people/mirela.osk");
        browser.sees("Second officer");
        browser.press("Deactivate");
        browser.sees("Mirela Osk is deactivated");
        browser.sees("1 gone");
        browser.press("Undo");
        browser.open("/directory/units/fleet");
        browser.sees("Units below");
        browser.choose("Move below another unit", "MV Heron Bridge", "Bridge");
        browser.sees("would close a cycle of units: Fleet → Bridge → MV Heron → Fleet");
    }

    @Test
    void aTrialWorkspaceKeepsAGateClosedAndAPaidOneOpensIt() {
        String asked = "/ladder?who=account:tobin.velho&what=setting:assistant.use&where=workspace:new-ideas";
        browser.open(asked);
        browser.ladder("Gate closed: Hosting of size M, no trial");
        browser.press("Add to draft");
        browser.sees("1 edit");
        browser.open("/directory/workspaces/new-ideas");
        browser.sees("No policy says anything for this workspace now.");
        browser.press("Review");
        browser.sees("Trial berth is no longer on trial");
        browser.press("Publish");
        browser.sees("is published");
        browser.open(asked);
        browser.outcome("Yes.");
        browser.ladder("Gate open: Hosting of size M, no trial");

        browser.open("/directory/workspaces");
        browser.press("New workspace");
        browser.type("Name", "Winter timetable");
        browser.press("Create");
        browser.press("Winter timetable");
        browser.sees("Nobody works here yet");
        browser.choose("Add a member", "first mates", "First mates");
        browser.sees("a group of 18");
        browser.tick("On trial");
        browser.sees("Not available on this hosting");
    }

    @Test
    void aSettingIsClosedToWorkspacesAndNoneIsSpokenOnThereAnyMore() {
        browser.open("/directory/workspaces/new-ideas");
        browser.sees("Not available on this hosting");
        browser.press("Close Use the assistant to all workspaces");
        browser.sees("1 edit");
        browser.press("Review");
        browser.sees("Use the assistant");
        browser.press("Publish");
        browser.sees("is published");
        assertThat(server.get("/api/v1/workspaces/new-ideas/settings").body())
                .contains("\"key\":\"assistant.use\"")
                .doesNotContainPattern("\"key\":\"assistant.use\"[^}]*\"open\":true");
    }
}
