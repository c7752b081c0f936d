using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Cenotic.Server.Storage.Migrations
{
    /// <inheritdoc />
    public partial class CountedRefusals : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AddColumn<long>(
                name: "Count",
                table: "refusals",
                type: "INTEGER",
                nullable: false,
                defaultValue: 1L);
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropColumn(
                name: "Count",
                table: "refusals");
        }
    }
}
